#!/usr/bin/env python3
"""Draws the demo site as a plan sheet on A1 at 1 : 500: plan.pdf with its lines and texts, and scan.png, the same as it
comes from a copier: turned by 0.6 degrees, 0.8 % too wide and 0.5 % too low.

plan_sheet.py SITE CONTOURS.geojson: contours of the existing ground; the rest comes from the site's own files.
"""
import csv
import json
import math
import sys
import zlib
from pathlib import Path

WIDE, HIGH = 841.0, 594.0  # mm
SCALE = 500
CORNER_E, CORNER_N = 412_240.0, 6_187_360.0  # of the sheet's lower left
DOTS = 100 / 25.4  # of the scan, for each mm
TURNED, WIDER, HIGHER = math.radians(0.6), 1.008, 0.995


def on_sheet(e, n):
    return (e - CORNER_E) * 1000 / SCALE, (n - CORNER_N) * 1000 / SCALE


class Sheet:
    """Strokes and texts in mm."""

    def __init__(self):
        self.strokes, self.texts = [], []  # (colour, width, dash, points), (size, x, y, turned, text)

    def line(self, points, colour="0 0 0", width=0.25, dash=""):
        if len(points) > 1:
            self.strokes.append((colour, width, dash, points))

    def text(self, x, y, text, size=2.5, turned=0.0):
        self.texts.append((size, x, y, turned, text))

    def pdf(self):
        mm = 72 / 25.4
        content = ["1 J 1 j"]
        for colour, width, dash, points in self.strokes:
            way = " ".join(f"{x * mm:.3f} {y * mm:.3f} {'l' if i else 'm'}" for i, (x, y) in enumerate(points))
            content.append(f"{colour} RG {width * mm:.3f} w [{dash}] 0 d {way} S")
        for size, x, y, turned, text in self.texts:
            c, s = math.cos(turned), math.sin(turned)
            content.append(f"BT /F1 {size * mm:.3f} Tf {c:.5f} {s:.5f} {-s:.5f} {c:.5f} {x * mm:.3f} {y * mm:.3f} Tm ({text}) Tj ET")
        stream = zlib.compress("\n".join(content).encode("ascii"), 9)
        objects = [b"<< /Type /Catalog /Pages 2 0 R >>", b"<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
                   f"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 {WIDE * mm:.4f} {HIGH * mm:.4f}] /Contents 4 0 R "
                   "/Resources << /Font << /F1 5 0 R >> >> >>".encode(),
                   b"<< /Length %d /Filter /FlateDecode >>\nstream\n%s\nendstream" % (len(stream), stream),
                   b"<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>"]
        out, places = b"%PDF-1.4\n", []
        for number, body in enumerate(objects, 1):
            places.append(len(out))
            out += b"%d 0 obj\n%s\nendobj\n" % (number, body)
        table = b"".join(b"%010d 00000 n \n" % p for p in places)
        return out + b"xref\n0 6\n0000000000 65535 f \n%strailer << /Size 6 /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n" % (table, len(out))

    def scan(self):
        """Grey pixels, lines as thick as drawn, texts in strokes."""
        wide, high = int(WIDE * DOTS), int(HIGH * DOTS)
        rows = [bytearray(b"\xff" * wide) for _ in range(high)]

        def pixel(x, y):
            dx, dy = (x - WIDE / 2) * WIDER, (y - HIGH / 2) * HIGHER
            px = WIDE / 2 + dx * math.cos(TURNED) - dy * math.sin(TURNED)
            py = HIGH / 2 + dx * math.sin(TURNED) + dy * math.cos(TURNED)
            return px * DOTS, high - py * DOTS

        def stroke(a, b, width, grey):
            (ax, ay), (bx, by) = pixel(*a), pixel(*b)
            half = max(0.6, width * DOTS / 2)
            length = math.hypot(bx - ax, by - ay)
            for y in range(max(0, int(min(ay, by) - half - 1)), min(high, int(max(ay, by) + half + 2))):
                # Where the stroke's middle line runs in this row, and what is near it.
                if abs(by - ay) > 1e-9:
                    ts = sorted(((y + 0.5 - half - 1 - ay) / (by - ay), (y + 0.5 + half + 1 - ay) / (by - ay)))
                    t0, t1 = max(0.0, ts[0]), min(1.0, ts[1])
                else:
                    t0, t1 = 0.0, 1.0
                if t0 > t1:
                    continue
                x0, x1 = sorted((ax + t0 * (bx - ax), ax + t1 * (bx - ax)))
                for x in range(max(0, int(x0 - half - 1)), min(wide, int(x1 + half + 2))):
                    px, py = x + 0.5 - ax, y + 0.5 - ay
                    t = 0.0 if length == 0 else max(0.0, min(1.0, (px * (bx - ax) + py * (by - ay)) / length**2))
                    d = math.hypot(px - t * (bx - ax), py - t * (by - ay))
                    ink = max(0.0, min(1.0, half + 0.5 - d))
                    rows[y][x] = min(rows[y][x], int(255 - ink * (255 - grey)))

        for colour, width, dash, points in self.strokes:
            grey = int(sum(float(c) for c in colour.split()) / 3 * 255)
            for a, b in zip(points, points[1:]):
                stroke(a, b, width, grey)
        for size, x, y, turned, text in self.texts:
            c, s = math.cos(turned), math.sin(turned)
            for number, letter in enumerate(text):
                for a, b in FIGURES.get(letter, []):
                    ends = [(0.56 * number + 0.42 * p, 0.7 * q) for p, q in (a, b)]
                    stroke(*[(x + size * (u * c - v * s), y + size * (u * s + v * c)) for u, v in ends], 0.25, 0)
        data = zlib.compress(b"".join(b"\x00" + bytes(r) for r in rows), 9)

        def chunk(name, body):
            return len(body).to_bytes(4, "big") + name + body + zlib.crc32(name + body).to_bytes(4, "big")

        dots = round(DOTS * 1000)
        return (b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", wide.to_bytes(4, "big") + high.to_bytes(4, "big") + b"\x08\x00\x00\x00\x00")
                + chunk(b"pHYs", dots.to_bytes(4, "big") * 2 + b"\x01") + chunk(b"IDAT", data) + chunk(b"IEND", b""))


def figures():
    """Figures of straight strokes, a unit wide and high."""
    top, upper, lower, middle = ((0, 1), (1, 1)), ((0, 1), (0, 0.5)), ((0, 0.5), (0, 0)), ((0, 0.5), (1, 0.5))
    right, low, bottom = ((1, 1), (1, 0.5)), ((1, 0.5), (1, 0)), ((0, 0), (1, 0))
    return {"0": [top, upper, lower, right, low, bottom], "1": [right, low], "2": [top, right, middle, lower, bottom],
            "3": [top, right, middle, low, bottom], "4": [upper, middle, right, low], "5": [top, upper, middle, low, bottom],
            "6": [top, upper, middle, lower, low, bottom], "7": [top, right, low],
            "8": [top, upper, lower, middle, right, low, bottom], "9": [top, upper, middle, right, low, bottom],
            ".": [((0.4, 0), (0.6, 0))], "-": [middle]}


FIGURES = figures()


def contour(sheet, points, level):
    """With a gap for its label in the middle of a long one, and heavier every fifth."""
    index = abs(level / 2.5 - round(level / 2.5)) < 1e-6
    style = {"colour": "0.45 0.28 0.12", "width": 0.35 if index else 0.18}
    lengths = [0.0]
    for a, b in zip(points, points[1:]):
        lengths.append(lengths[-1] + math.dist(a, b))
    if lengths[-1] < 120:
        return sheet.line(points, **style)
    text, half = f"{level:.2f}", 6.0
    middle = lengths[-1] / 2

    def at(s):
        i = max(k for k in range(len(points) - 1) if lengths[k] <= s)
        t = (s - lengths[i]) / (lengths[i + 1] - lengths[i])
        return tuple(p + t * (q - p) for p, q in zip(points[i], points[i + 1]))

    a, b = at(middle - half), at(middle + half)
    sheet.line([p for p, s in zip(points, lengths) if s < middle - half] + [a], **style)
    sheet.line([b] + [p for p, s in zip(points, lengths) if s > middle + half], **style)
    turned = math.atan2(b[1] - a[1], b[0] - a[0])
    if math.cos(turned) < 0:
        turned += math.pi
    size, wide = 2.5, 2.5 * 0.556 * 4.5
    x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    sheet.text(x - wide / 2 * math.cos(turned) + 0.35 * size * math.sin(turned),
               y - wide / 2 * math.sin(turned) - 0.35 * size * math.cos(turned), text, size, turned)


def main(site, contours):
    sheet = Sheet()
    for feature in json.loads(Path(contours).read_text(encoding="utf-8"))["features"]:
        points = [on_sheet(p[0], p[1]) for p in feature["geometry"]["coordinates"]]
        contour(sheet, points, feature["properties"]["level_m"])
    for name, colour, width, dash in (("boundary.geojson", "0 0 0", 0.5, "14 4 3 4"), ("silo-pad.geojson", "0.77 0.34 0.11", 0.5, "")):
        ring = json.loads((site / name).read_text(encoding="utf-8"))["features"][0]["geometry"]["coordinates"][0]
        sheet.line([on_sheet(*p[:2]) for p in ring], colour, width, dash)
    sheet.text(*on_sheet(412_458, 6_187_516), "77.50", 4)
    with open(site / "survey.csv", encoding="utf-8") as f:
        shots = [r for r in csv.DictReader(f) if r["code"] == "GL"]
    taken = []
    for r in shots:
        x, y = on_sheet(float(r["easting"]), float(r["northing"]))
        if all(math.dist((x, y), p) > 26 for p in taken):
            taken.append((x, y))
            sheet.line([(x - 0.8, y), (x + 0.8, y)], width=0.13)
            sheet.line([(x, y - 0.8), (x, y + 0.8)], width=0.13)
            sheet.text(x + 1.2, y + 0.6, f"{float(r['level']):.2f}", 1.8)
    for e in range(412_300, 412_601, 100):
        for n in range(6_187_400, 6_187_601, 100):
            x, y = on_sheet(e, n)
            sheet.line([(x - 5, y), (x + 5, y)], "0.2 0.2 0.6", 0.13)
            sheet.line([(x, y - 5), (x, y + 5)], "0.2 0.2 0.6", 0.13)
            sheet.text(x + 1, y - 3.2, f"E {e}", 2)
            sheet.text(x + 1, y - 6, f"N {n}", 2)
    sheet.line([(10, 10), (831, 10), (831, 584), (10, 584), (10, 10)], width=0.7)
    sheet.text(640, 30, "Tolwin Grain Depot, existing ground and silo pad", 5)
    sheet.text(640, 20, f"1 : {SCALE}   contours every 0.5 m   site grid", 4)
    (site / "plan.pdf").write_bytes(sheet.pdf())
    (site / "scan.png").write_bytes(sheet.scan())


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2])
