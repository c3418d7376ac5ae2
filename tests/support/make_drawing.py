"""Writes FOLDER/drawing.dxf, FOLDER/binary.dxf (the same) and FOLDER/r12.dxf: every kind of entity the reader knows, written by
an independent library. Counts and levels by layer stand in tests/cli/formats_test.cpp."""
import sys

import ezdxf

folder = sys.argv[1]
drawing = ezdxf.new("R2010")
drawing.units = 6
space = drawing.modelspace()

for i in range(20):
    space.add_point((10 * i, 5 * (i % 4), 70 + 0.5 * i), dxfattribs={"layer": "SURVEY"})
for k in range(4):
    space.add_lwpolyline([(20 * k, 0), (20 * k, 100), (20 * k + 5, 200)],
                         dxfattribs={"layer": "CONTOUR", "elevation": 70 + k})
space.add_polyline3d([(0, 0, 71), (50, 50, 73), (100, 60, 75)], dxfattribs={"layer": "BANK"})
space.add_line((0, 0, 71), (10, 0, 72), dxfattribs={"layer": "BANK"})

# Curves: every vertex lies on the true curve.
space.add_arc((50, 50, 77), 20, 0, 90, dxfattribs={"layer": "ARC"})
space.add_circle((150, 50, -77), 20, dxfattribs={"layer": "MIRRORED", "extrusion": (0, 0, -1)})
space.add_ellipse((50, 50, 77), (20, 0, 0), 0.5, dxfattribs={"layer": "ELLIPSE"})
space.add_spline([(0, 0, 71), (10, 10, 72), (20, 0, 73), (30, 10, 74)], dxfattribs={"layer": "SPLINE"})
space.add_open_spline([(0, 0, 71), (10, 10, 72), (20, 0, 73), (30, 10, 74)], dxfattribs={"layer": "SPLINE"})
space.add_lwpolyline([(0, 0, 0, 0, 1), (10, 0, 0, 0, 1)], dxfattribs={"layer": "BULGE", "elevation": 75}, close=True)

# Blocks: survey marks with a level, and a nested block.
mark = drawing.blocks.new("MARK")
mark.add_circle((0, 0), 1)
mark.add_attdef("LEVEL", (1, 0))
mark.add_attdef("NUMBER", (1, 1))
for i in range(10):
    insert = space.add_blockref("MARK", (10 * i, 5, 0), dxfattribs={"layer": "MARKS"})
    insert.add_auto_attribs({"LEVEL": f"{72.5 + i:.2f}", "NUMBER": str(i)})
inner = drawing.blocks.new("INNER")
inner.add_line((0, 0, 0), (1, 0, 0))
inner.add_point((0, 0, 2))
outer = drawing.blocks.new("OUTER", base_point=(1, 0, 0))
outer.add_blockref("INNER", (5, 0, 1), dxfattribs={"rotation": 90, "xscale": 2, "yscale": 2, "zscale": 1})
space.add_blockref("OUTER", (100, 100, 70), dxfattribs={"layer": "NESTED"})
grid = space.add_blockref("INNER", (0, 300, 70), dxfattribs={"layer": "ROWS"})
grid.dxf.row_count, grid.dxf.column_count, grid.dxf.row_spacing, grid.dxf.column_spacing = 2, 3, 10, 20
drawing.blocks.new("NOWHERE").add_point((1, 1, 1), dxfattribs={"layer": "NEVER"})

# Written levels: alone, beside points without a level, and words.
for i in range(6):
    space.add_text(f"{80 + i / 10:.2f}", dxfattribs={"layer": "SPOT", "height": 1, "insert": (15 * i, 150)})
    space.add_point((15 * i + 0.2, 180, 0), dxfattribs={"layer": "BARE"})
    space.add_text(f"{90 + i / 10:.2f}", dxfattribs={"layer": "WRITTEN", "height": 1, "insert": (15 * i + 0.5, 180.2)})
space.add_mtext("{\\fArial;81.25}", dxfattribs={"layer": "SPOT", "insert": (100, 150)})
space.add_text("70.00", dxfattribs={"layer": "CONTOUR", "height": 1, "insert": (0.5, 50)})  # a contour's label
space.add_text("LOT 12", dxfattribs={"layer": "NOTES", "insert": (1, 1)})

# Faces and meshes.
space.add_3dface([(0, 0, 71), (10, 0, 71), (10, 10, 72), (0, 10, 72)], dxfattribs={"layer": "FACES"})
with space.add_mesh(dxfattribs={"layer": "MESH"}).edit_data() as data:
    data.vertices = [(0, 0, 71), (1, 0, 71), (1, 1, 72), (0, 1, 72)]
    data.faces = [[0, 1, 2, 3]]
mesh = space.add_polymesh((3, 3), dxfattribs={"layer": "POLYMESH"})
for i in range(3):
    for j in range(3):
        mesh.set_mesh_vertex((i, j), (5 * i, 5 * j, 70 + i + j))
space.add_polyface(dxfattribs={"layer": "POLYFACE"}).append_face([(0, 0, 71), (5, 0, 71), (5, 5, 72)])

drawing.layout("Layout1").add_line((0, 0), (1, 1), dxfattribs={"layer": "PAPER"})
drawing.saveas(folder + "/drawing.dxf")
drawing.saveas(folder + "/binary.dxf", fmt="bin")

old = ezdxf.new("R12")
space = old.modelspace()
space.add_point((1, 2, 73), dxfattribs={"layer": "H\u00d6HE"})
space.add_polyline2d([(0, 0), (10, 10)], dxfattribs={"layer": "KANTE", "elevation": (0, 0, 75)})
old.saveas(folder + "/r12.dxf")
old.saveas(folder + "/r12-binary.dxf", fmt="bin")
