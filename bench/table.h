// What all parts of the table are measured with.
#pragma once

#include <cstddef>
#include <functional>
#include <string>

#include "ground/build.h"

namespace inselberg::bench {

// One row of the table.
void row(const std::string& what, const std::string& measured, const std::string& wanted);
// Seconds of the fastest of a few runs.
double best(int runs, const std::function<void()>& work);
// The level of the made-up land.
double hills(double x, double y);
// n points over a square of a metre per point on average, and lines of about 100 vertices in all `lineVertices`.
ground::BuildInput survey(std::size_t n, std::size_t lineVertices, unsigned seed, double lift = 0);
// How work grows: the time of four times as much against the time of so much. Linear work gives 4, n log n a little
// more, work that looks at all pairs 16.
void grows(const std::string& what, std::size_t n, const std::function<std::function<void()>(std::size_t)>& prepare);

// Works of every kind.
void kinds();
// Stages and their quantities, of the demo and of a large site.
void stagesOfDemo();
void stages();

}  // namespace inselberg::bench
