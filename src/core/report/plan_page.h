// A plan on paper.
#pragma once

#include <string>

#include "drawing/paper.h"
#include "report/plan_drawing.h"

namespace inselberg::report {

// On the least of A4 to A0, upright or across, that it fits on to scale, else on one of its own size; with title,
// scale bar, north arrow and legend.
drawing::Page asPage(const PlanDrawing& plan);
// The roundest scale, 1 to so much, with which an area fits on such a page of A3.
double scaleFitting(const plane::Box& area);
// The same with which it fits into so many mm.
double scaleFitting(const plane::Box& area, double width, double height);

// What pages are put together from, mm.
// The plan, with the lower left corner of its extent there: its lines, and its texts over all of them.
void addPlan(drawing::Page& page, const PlanDrawing& plan, plane::Vec2 corner);
// A bar of a round length of about 50 mm, or at most so many, with its right end there.
void addScaleBar(drawing::Page& page, plane::Vec2 right, double scale, const Measures& measures, double most = 90);
// That a plan is told in by the ending of its file's name: the project's, but in .dxf metres, as its lines are.
Measures measuresOn(const std::string& name, const Measures& ofProject);

// "contours every 0.5 m".
std::string intervalText(const PlanDrawing& plan);
void addNorth(drawing::Page& page, plane::Vec2 foot);
// The layers of lines that a reader may ask about, in columns as wide as they need; those that do not fit are left out.
void addLegend(drawing::Page& page, const PlanDrawing& plan, const plane::Box& within);

// What a file of a plan holds by the ending of its name: .dxf, .svg, .pdf.
bool isDrawingEnding(const std::string& name);
// REQUIRES: such an ending.
std::string contentOf(const std::string& name, const PlanDrawing& plan, const plane::Origin& origin);

}  // namespace inselberg::report
