#!/usr/bin/env python3
"""Makes the survey of Tolwin Grain Depot, a made-up site: the same files from the same seed.

A field of about 6 ha falling 9 m from north to south, to a seasonal stream; a farm track with a ditch along the west side.
Writes survey.csv, breaklines.dxf, boundary.geojson, silo-pad.geojson, test-pits.csv and design.json into the folder named.
"""
import json
import math
import random
import sys
from pathlib import Path

EAST, NORTH = 412_300.0, 6_187_400.0
WIDTH, HEIGHT = 300.0, 205.0


BOUNDARY = [(4, 4), (150, 2.5), (296, 5), (297, 120), (290, 202), (120, 203), (5, 201)]
PITS = [("TP1", 80, 150, 0.25), ("TP2", 150, 175, 0.20), ("TP3", 230, 150, 0.30), ("TP4", 120, 70, 0.40), ("TP5", 235, 65, 0.35)]


def stream_y(x):
    return 18 + 5 * math.sin(x / 38) + 2.5 * math.sin(x / 13 + 1)


def track_x(y):
    return 32 + 7 * math.sin(y / 55)


def hillside(x, y):
    """The field without stream, track and ditch."""
    z = 72.2 + 9.0 * (max(y, 0.0) / HEIGHT) ** 1.15
    z += 0.9 * math.exp(-(((x - 205) / 55) ** 2 + ((y - 140) / 40) ** 2))
    z -= 0.7 * math.exp(-(((x - 110) / 40) ** 2 + ((y - 90) / 45) ** 2))
    z += 0.25 * math.sin(x / 21) * math.cos(y / 17) + 0.012 * (x - 150)
    return z


def level(x, y):
    z = hillside(x, y)
    d = abs(y - stream_y(x))
    if d < 7:
        bed = hillside(x, stream_y(x)) - 1.5
        z = bed if d < 1.6 else bed + (z - bed) * min(1, (d - 1.6) / 5.4)
    t = x - track_x(y)
    if y > 34:
        if abs(t) < 2.2:
            z = hillside(track_x(y), y) + 0.25 - 0.05 * abs(t)
        elif 2.2 <= t < 6:
            z -= 0.7 * max(0.0, 1 - abs(t - 4.1) / 1.9)
    return z


def design(pad):
    """The whole depot: pad, yard on a tilt, ramp, road, pond, flood berm and a ditch that keeps the hillside's water off."""

    def at(*places):
        return [[round(EAST + x, 3), round(NORTH + y, 3)] for x, y in places]

    def end(x, y, z):
        return [round(EAST + x, 3), round(NORTH + y, 3), z]

    whole = {
        "name": "Tolwin Grain Depot",
        "sections": {
            "bank": [{"out": 1.0, "fall_percent": 2}, {"to_ground": {"cut": "2:1", "fill": "2:1"}}],
            "road": [{"out": 3, "fall_percent": 2.5}, {"by": -0.4, "slope": "1.5:1"}, {"out": 0.5},
                     {"to_ground": {"cut": "2:1", "fill": "2:1"}}],
        },
        "works": [
            {"kind": "pad", "name": "Silo pad", "outline": at(*pad), "level": 77.2},
            {"kind": "pad", "name": "Truck yard", "outline": at((122, 46), (196, 41), (198, 74), (124, 79)),
             "level": 74.6, "fall_percent": 1.5, "bearing_deg": 176, "section": "bank"},
            {"kind": "ramp", "name": "Ramp", "from": end(150.3, 101.33, 77.2), "to": end(148.6, 78.86, 74.85), "width": 6,
             "joins": "both", "max_grade_percent": 12, "left": "bank", "right": "bank"},
            {"kind": "run", "name": "Access road", "line": at((46, 60), (72, 62), (100, 57), (121.2, 55.3)),
             "levels": [[0, 73.6], [40, 73.5], [75.7, 74.5]], "curves": [[40, 20]], "left": "road", "right": "road"},
            {"kind": "pond", "name": "Rainwater pond", "drawn": "bottom",
             "outline": at((226, 50), (258, 48), (260, 66), (228, 68)), "bottom": 72.4, "top": 74.6, "water": 74.0,
             "inside": "3:1", "bench": {"height": 0.8, "width": 1.5}, "crest": 2.5},
            {"kind": "berm", "name": "Flood berm", "line": at((58, 34), (110, 36), (165, 30), (206, 27)), "width": 2,
             "height": 0.9, "slope": "2.5:1"},
            {"kind": "swale", "name": "Catch ditch", "line": at((96, 152), (150, 160), (205, 156), (226, 128), (232, 96)),
             "width": 0.8, "levels": [[0, 78.08], [54.6, 78.45], [109.7, 79.7], [144.7, 78.3], [177.29, 76.98]], "slope": "2:1"},
        ],
        "strips": [{"name": "Topsoil", "outline": at(*BOUNDARY), "material": "topsoil",
                    "pits": [end(x, y, depth) for _, x, y, depth in PITS]}],
        "undercuts": [{"name": "Under the silos", "under": ["Silo pad"], "depth": 1.2, "wider": 1, "back_slope": "1:1",
                       "material": "clay"}],
        "buildups": [
            {"name": "Silo slab", "over": ["Silo pad"], "part": "top",
             "layers": [{"name": "slab", "thickness": 0.3}, {"name": "base", "thickness": 0.2}]},
            {"name": "Yard pavement", "over": ["Truck yard"], "part": "top",
             "layers": [{"name": "surface", "thickness": 0.1}, {"name": "base", "thickness": 0.3}]},
            {"name": "Topsoil on batters", "over": ["Silo pad", "Truck yard", "Flood berm"], "part": "batters",
             "slope_true": True, "layers": [{"name": "topsoil", "thickness": 0.15}]},
        ],
        "regions": [{"name": "First phase", "outline": at((110, 20), (210, 20), (215, 160), (110, 160))}],
        "materials": [
            {"name": "topsoil", "bulking": 0.25, "shrinkage": 0.1, "usable": 0, "rates": {"cut": 4.5, "haul": 6}},
            {"name": "clay", "bulking": 0.3, "shrinkage": 0.12, "usable": 0.9, "rates": {"cut": 5.5, "haul": 7}},
        ],
        "accuracy": [{"source": "survey.csv", "random": 0.03, "systematic": 0.01}],
    }
    for works in whole["works"]:
        works["material"] = "clay"
        works["phase"] = "1 drainage" if works["kind"] in ("pond", "berm", "swale") else "2 platforms"
    return whole


def main(folder):
    rng = random.Random(20261124)
    folder.mkdir(parents=True, exist_ok=True)
    points = []

    def shoot(x, y, code):
        points.append((x, y, level(x, y) + rng.gauss(0, 0.012), code))

    # The field on a loose 6 m grid, denser where the ground bends.
    y = 1.0
    while y < HEIGHT:
        x = 1.0
        while x < WIDTH:
            shoot(x + rng.uniform(-1.6, 1.6), y + rng.uniform(-1.6, 1.6), "GL")
            x += 5.6
        y += 5.6
    for _ in range(420):
        shoot(rng.uniform(45, 290), rng.uniform(40, 200), "GL")
    for i in range(0, 300, 8):
        for offset in (-4.4, 4.4):
            shoot(i + rng.uniform(-1, 1), stream_y(i) + offset, "SB")

    lines = []

    def line(code, xy):
        vertices = [(px, py, level(px, py)) for px, py in xy]
        lines.append((code, vertices))
        for px, py, pz in vertices:
            points.append((px, py, pz, code))

    along_x = [i * 5.0 for i in range(0, 61)]
    for code, offset in (("BANKTOP", -7.0), ("BANKFOOT", -1.6), ("BANKFOOT", 1.6), ("BANKTOP", 7.0)):
        line(code, [(x, stream_y(x) + offset) for x in along_x])
    along_y = [36 + i * 6.0 for i in range(0, 29)]
    for code, offset in (("TRACK", -2.19), ("TRACK", 2.19), ("DITCH", 4.1)):
        line(code, [(track_x(y) + offset, y) for y in along_y if y < HEIGHT])

    # A surveyor does not shoot the same spot twice: field shots near another point are dropped.
    kept = [p for p in points if p[3] != "GL"]
    cells = {}
    for p in kept:
        cells.setdefault((int(p[0] // 2), int(p[1] // 2)), []).append(p)
    for p in points:
        if p[3] != "GL":
            continue
        cx, cy = int(p[0] // 2), int(p[1] // 2)
        near = (q for i in (-1, 0, 1) for j in (-1, 0, 1) for q in cells.get((cx + i, cy + j), []))
        if all(math.hypot(p[0] - q[0], p[1] - q[1]) >= 1.4 for q in near):
            kept.append(p)
            cells.setdefault((cx, cy), []).append(p)
    points = kept
    rng.shuffle(points)
    with open(folder / "survey.csv", "w", encoding="utf-8", newline="\n") as f:
        f.write("number,easting,northing,level,code\n")
        for i, (x, y, z, code) in enumerate(points, 1):
            f.write(f"{i},{EAST + x:.3f},{NORTH + y:.3f},{z:.3f},{code}\n")

    with open(folder / "breaklines.dxf", "w", encoding="ascii", newline="\n") as f:
        f.write("0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n9\n$INSUNITS\n70\n6\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n")
        for code, vertices in lines:
            f.write(f"0\nPOLYLINE\n8\n{code}\n66\n1\n10\n0.0\n20\n0.0\n30\n0.0\n70\n8\n")
            for x, y, z in vertices:
                f.write(f"0\nVERTEX\n8\n{code}\n10\n{EAST + x:.3f}\n20\n{NORTH + y:.3f}\n30\n{z:.3f}\n70\n32\n")
            f.write(f"0\nSEQEND\n8\n{code}\n")
        f.write("0\nENDSEC\n0\nEOF\n")

    def polygon(name, ring, **properties):
        ring = [[round(EAST + x, 3), round(NORTH + y, 3)] for x, y in ring]
        feature = {"type": "Feature", "properties": {"name": name, **properties},
                   "geometry": {"type": "Polygon", "coordinates": [ring + ring[:1]]}}
        return {"type": "FeatureCollection", "features": [feature]}

    with open(folder / "boundary.geojson", "w", encoding="utf-8", newline="\n") as f:
        json.dump(polygon("Site boundary", BOUNDARY), f, indent=1)
        f.write("\n")
    angle = math.radians(-8)
    pad = []
    for u, v in ((-38, -21), (38, -21), (38, 9), (20, 9), (20, 21), (-38, 21)):
        pad.append((168 + u * math.cos(angle) - v * math.sin(angle), 120 + u * math.sin(angle) + v * math.cos(angle)))
    with open(folder / "silo-pad.geojson", "w", encoding="utf-8", newline="\n") as f:
        json.dump(polygon("Silo pad", pad), f, indent=1)
        f.write("\n")
    with open(folder / "design.json", "w", encoding="utf-8", newline="\n") as f:
        json.dump(design(pad), f, indent=1)
        f.write("\n")

    with open(folder / "test-pits.csv", "w", encoding="utf-8", newline="\n") as f:
        f.write("number,easting,northing,level,topsoil\n")
        for name, x, y, depth in PITS:
            f.write(f"{name},{EAST + x:.3f},{NORTH + y:.3f},{level(x, y):.3f},{depth:.2f}\n")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
