// Editing lines and giving them levels. Every function gives the changed line and leaves its input as it is; positions
// in metres, a level that is not a number is none.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "ground/build.h"

namespace inselberg::ground {

// --- shape ---

// The plan length from the first vertex to each; for a closed line one more, back to the first.
std::vector<double> chainage(const Breakline& line);

// Where on the line p lies nearest: the side it starts (vertex number), the part of that side 0..1, and how far away.
struct OnLine {
  std::size_t side = 0;
  double part = 0;
  double distance = 0;
};
OnLine nearestOn(const Breakline& line, Vec2 p);
// The place there, its level straight between the ends'.
Vec3 placeAt(const Breakline& line, const OnLine& at);

Breakline withVertex(Breakline line, const OnLine& at);  // a new vertex there, on the line
// Without a vertex; nothing when fewer than two would be left (three of a closed line).
std::optional<Breakline> withoutVertex(Breakline line, std::size_t vertex);
Breakline reversed(Breakline line);
// In two there; a closed line is opened there instead. Within 1 mm of an end of an open line: the line alone.
std::vector<Breakline> split(const Breakline& line, const OnLine& at);
// End to end, the two ends that lie nearest together; when these are within 1 mm they become one vertex. Both must be
// open.
std::optional<Breakline> joined(const Breakline& a, const Breakline& b);
// Parallel at a plan distance, to the left for plus; levels kept. Corners are mitred, or cut at twice the distance
// where they are sharp. Nothing when nothing is left of the line.
std::optional<Breakline> offset(const Breakline& line, double distance);
// The end nearer to `end` is cut back, or prolonged in its direction and grade, to where it meets the other line.
// Nothing when it does not.
std::optional<Breakline> trimmedTo(const Breakline& line, const Breakline& other, Vec2 end);
std::optional<Breakline> extendedTo(const Breakline& line, const Breakline& other, Vec2 end);
// Each corner rounded by an arc of this radius where its sides are long enough, chords within 1 cm; levels straight
// along.
Breakline rounded(const Breakline& line, double radius);
Breakline moved(Breakline line, Vec3 by);
// Turned counter-clockwise about a place by an angle in radians.
Breakline turned(Breakline line, Vec2 about, double angle);
// The vertices met on the way along the line between two places on it, the shorter way round when closed; the ends not
// included.
std::vector<Vec3> between(const Breakline& line, const OnLine& from, const OnLine& to);

// --- levels ---

Breakline atLevel(Breakline line, double level);
// Straight by length between two vertices, by their numbers: of a closed line too, never past its last vertex.
Breakline levelledBetween(Breakline line, std::size_t from, std::size_t to);
// From one vertex at its level, rising by `grade` (0.02: 2 %) along the line's direction, falling against it.
Breakline levelledByGrade(Breakline line, std::size_t from, double grade);
// From a ground (or any function of place), plus an offset; where that has no level, the vertex keeps its own.
Breakline levelledFrom(Breakline line, const std::function<std::optional<double>(Vec2)>& levelAt, double offset);
// From the nearest place on another line, plus an offset.
Breakline levelledFromLine(Breakline line, const Breakline& other, double offset);

}  // namespace inselberg::ground
