// Measures the promises of docs/performance.md and prints them as its table. Every row is a ratio to a yardstick
// measured in the same run, or a time or size on a ground of a million triangles. Run on an idle machine:
// scripts/bench.sh [PART]
#include <fmt/format.h>
#include <malloc.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <functional>
#include <limits>
#include <pugixml.hpp>
#include <random>
#include <string>

#include "balance/level_balance.h"
#include "bare_triangulation.h"
#include "base/error.h"
#include "exchange/dxf.h"
#include "exchange/dxf_tags.h"
#include "exchange/formats.h"
#include "exchange/ground_write.h"
#include "exchange/landxml.h"
#include "exchange/text_file.h"
#include "ground/build.h"
#include "ground/check.h"
#include "ground/contours.h"
#include "ground/raster.h"
#include "ground/stamp.h"
#include "ground/thin.h"
#include "ground/triangulate.h"
#include "project/areas.h"
#include "project/evaluate.h"
#include "project/features.h"
#include "project/level_steps.h"
#include "quantity/volume.h"
#include "section/section.h"
#include "sheet/sheet_lines.h"
#include "sheet/tile_pyramid.h"
#include "table.h"
#include "works/pad.h"
#ifdef INSELBERG_BENCH_APP
#include <QApplication>
#include <QBuffer>
#include <QMouseEvent>
#include <QTemporaryDir>
#include <QWheelEvent>

#include "plan/plan_view.h"
#include "relief/relief_renderer.h"
#include "relief/relief_view.h"
#include "section/section_view.h"
#include "tools/edit_line_tool.h"
#include "window/main_window.h"
#endif

namespace inselberg::bench {

using plane::Vec2;
using plane::Vec3;

double best(int runs, const std::function<void()>& work) {
  double least = 1e300;
  for (int i = 0; i < runs; ++i) {
    const auto start = std::chrono::steady_clock::now();
    work();
    least = std::min(least, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
  }
  return least;
}

double hills(double x, double y) {
  return 50 + 0.02 * x + 6 * std::sin(x / 130) * std::cos(y / 170) + 1.5 * std::sin(x / 23 + y / 31);
}

ground::BuildInput survey(std::size_t n, std::size_t lineVertices, unsigned seed, double lift) {
  std::mt19937 random(seed);
  const double size = std::sqrt(static_cast<double>(n));
  std::uniform_real_distribution<double> place(0, size);
  ground::BuildInput input;
  for (const double x : {0.0, size}) {
    for (const double y : {0.0, size}) input.points.push_back({x, y, hills(x, y) + lift});
  }
  while (input.points.size() < n) {
    const double x = place(random), y = place(random);
    input.points.push_back({x, y, hills(x, y) + lift});
  }
  const std::size_t lines = lineVertices / 100;
  for (std::size_t i = 0; i < lines; ++i) {
    // Lines side by side, so that they do not cross.
    ground::Breakline line;
    const double y = size * (static_cast<double>(i) + 0.5) / static_cast<double>(lines);
    for (int k = 0; k < 100; ++k) {
      const double x = size * (0.05 + 0.9 * k / 99),
                   wave = y + 0.3 * size / static_cast<double>(lines) * std::sin(k * 0.4);
      line.vertices.push_back({x, wave, hills(x, wave) + lift});
    }
    input.breaklines.push_back(std::move(line));
  }
  return input;
}

void row(const std::string& what, const std::string& measured, const std::string& wanted) {
  fmt::print("| {} | {} | {} |\n", what, measured, wanted);
  std::fflush(stdout);
}

void grows(const std::string& what, std::size_t n, const std::function<std::function<void()>(std::size_t)>& prepare) {
  const auto timed = [&](std::size_t size) {
    const auto work = prepare(size);
    return best(2, work);
  };
  const double little = timed(n), much = timed(4 * n);
  row(fmt::format("{}: {} against {}", what, 4 * n, n),
      fmt::format("{:.1f} x ({:.2f} s : {:.2f} s)", much / little, much, little), "6 x");
}

namespace {

long peakKilobytes() {
  std::ifstream status("/proc/self/status");
  for (std::string line; std::getline(status, line);) {
    if (line.starts_with("VmHWM:")) return std::stol(line.substr(6));
  }
  return 0;
}
long nowKilobytes() {
  std::ifstream status("/proc/self/status");
  for (std::string line; std::getline(status, line);) {
    if (line.starts_with("VmRSS:")) return std::stol(line.substr(6));
  }
  return 0;
}
void resetPeak() {
  std::ofstream("/proc/self/clear_refs") << "5";
}

void building() {
  const ground::BuildInput input = survey(1'000'000, 20'000, 1);
  std::vector<Vec2> points;
  std::vector<std::pair<ground::Index, ground::Index>> segments;
  for (const Vec3& p : input.points) points.push_back(p.plan());
  for (const auto& line : input.breaklines) {
    for (std::size_t k = 0; k < line.vertices.size(); ++k) {
      points.push_back(line.vertices[k].plan());
      const auto last = static_cast<ground::Index>(points.size() - 1);
      if (k > 0) segments.emplace_back(last - 1, last);
    }
  }
  const double bare = best(2, [&] { bareTriangulation(points, segments); });
  const double ours = best(2, [&] { ground::build(input, {}, {}, {}); });
  row("Ground of 1 000 000 points and 20 000 breakline vertices, against the bare triangulation of the same input",
      fmt::format("{:.2f} x ({:.2f} s : {:.2f} s)", ours / bare, ours, bare), "1.5 x");
}

void volumes() {
  const ground::BuildInput from = survey(500'000, 0, 2), other = survey(500'000, 0, 3);
  std::vector<Vec2> points;
  for (const Vec3& p : from.points) points.push_back(p.plan());
  const double bare = best(2, [&] { bareTriangulation(points, {}); });
  const auto a = ground::build(from, {}, {}, {}).tin;
  const auto b = ground::build(other, {}, {}, {}).tin;
  const auto above = ground::build(survey(500'000, 0, 3, 20), {}, {}, {}).tin;
  quantity::volumeBetween(*a, *b, {}, {});  // the search grids are built once, as in the program
  quantity::volumeBetween(*a, *above, {}, {});
  const auto report = [&](const char* what, const ground::Tin& to, const char* wanted) {
    const double t = best(3, [&] { quantity::volumeBetween(*a, to, {}, {}); });
    row(what, fmt::format("{:.2f} x ({:.2f} s : {:.2f} s)", t / bare, t, bare), wanted);
  };
  report(
      "Exact volume between two different grounds of 1 000 000 triangles each, crossing everywhere, against the bare "
      "triangulation of one",
      *b, "1 x");
  report("The same where one lies wholly above the other", *above, "0.7 x");
  const works::Pad pad{{{300, 300}, {400, 300}, {400, 400}, {300, 400}}, 52, {}};
  const auto placed = works::place(pad, *a, {}, {});
  const auto after = ground::stamp(*a, *placed.facets, {});
  quantity::volumeBetween(*a, *after, {}, {});
  report("The same between a ground and itself with a pad of a hectare", *after, "1 x");
}

void sections() {
  std::vector<section::Named> grounds;
  for (int k = 0; k < 5; ++k)
    grounds.push_back({std::to_string(k), ground::build(survey(500'000, 0, 3 + k), {}, {}, {}).tin});
  const std::vector<Vec2> line{{10, 20}, {700, 690}, {20, 640}, {400, 350}};
  section::sectionAlong(grounds, line);  // the search grids are built once
  const double t = best(5, [&] { section::sectionAlong(grounds, line); });
  const section::Section made = section::sectionAlong(grounds, line);
  row(fmt::format("A section of {:.1f} km across five grounds of 1 000 000 triangles each, {} stations",
                  made.length() / 1000, made.stations.size()),
      fmt::format("{:.1f} ms", 1000 * t), "20 ms");
}

#ifdef INSELBERG_BENCH_APP
void until(const std::function<bool()>& done) {
  do QApplication::processEvents(QEventLoop::AllEvents, 20);
  while (!done());
}

// Frames of a plan that is moved, each by an event and a repaint, with the picture being drawn anew behind all the
// while.
void movedFrames(app::PlanView& plan, const char* what, const std::function<void(int)>& move) {
  double slowest = 0, total = 0;
  constexpr int kFrames = 90;
  for (int i = 0; i < kFrames; ++i) {
    const auto start = std::chrono::steady_clock::now();
    move(i);
    plan.repaint();
    const double t = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    slowest = std::max(slowest, t), total += t;
    QApplication::processEvents();
  }
  row(what, fmt::format("{:.1f} ms (worst {:.0f} ms)", 1000 * total / kFrames, 1000 * slowest), "16.7 ms");
}

// What the views take of a ground of a million triangles, beyond the ground. Needs a display with OpenGL, as the
// relief.
void viewMemory() {
  if (QGuiApplication::platformName() == "offscreen") return;
  const auto empty = project::emptyProject("bench");
  const auto projectOf = [&](std::size_t points) {
    project::SourceData data;
    data.points = survey(points, 0, 3).points;
    return project::withSource(*empty, {"survey", ""}, std::move(data), empty->surveyed());
  };
  app::Workspace workspace;
  app::ViewState state(workspace);
  const auto take = [&](const project::ProjectPtr& project) {
    workspace.commit(project, "bench");
    until([&] { return workspace.upToDate(); });
  };
  // What the graphics take for pictures of this size is there before.
  take(projectOf(100));
  app::ReliefView relief(workspace, state);
  relief.resize(1280, 800);
  state.alter([](app::Shown& shown) { shown.layout = app::Layout::both; });
  relief.show();
  until([&] { return relief.settled(); });
  relief.hide();
  take(projectOf(500'000));
  malloc_trim(0);
  long before = nowKilobytes();
  const auto told = [&](const char* what) {
    malloc_trim(0);
    const long now = nowKilobytes();
    row(what, fmt::format("{} MB", (now - before) / 1024), "200 MB for all views");
    before = now;
  };
  app::PlanView plan(workspace, state);
  plan.resize(1280, 800);
  plan.show();
  until([&] { return plan.settled(); });
  told("Memory of the plan of 1 000 000 triangles at 1280 x 800, contours shown");
  app::SectionView section(workspace, state);
  section.resize(1280, 230);
  const plane::Box box = workspace.evaluation()->surveyed()->tin->bounds();
  state.takeSection({{box.minX, box.minY}, {box.maxX, box.maxY}});
  section.grab();
  told("Of a section across all of it");
  relief.show();
  until([&] { return relief.settled(); });
  told("Of the relief, with what the software renderer takes for the ground");
}

// A scan of A0 at 300 dpi on the plan, dragged across the window at its full size.
void panning() {
  QImage scan(14'043, 9'933, QImage::Format_Grayscale8);
  scan.fill(250);
  for (int y = 0; y < scan.height(); ++y) {
    for (int x = y % 97; x < scan.width(); x += 97) scan.scanLine(y)[x] = 40;
  }
  QByteArray png;
  QBuffer buffer(&png);
  scan.save(&buffer, "PNG");
  project::SheetInfo info;
  info.name = "scan", info.file = "scan.png", info.picture = true;
  info.size = {14'043, 9'933};
  info.placement = sheet::byScale(50, 50, {1, 1});
  scan = {};
  app::Workspace workspace;
  app::ViewState state(workspace);
  app::PlanView plan(workspace, state);
  plan.resize(828, 729);
  plan.show();
  workspace.commit(project::withSheet(*project::emptyProject("bench"), info,
                                      std::make_shared<const std::string>(png.toStdString()), ""),
                   "bench");
  const auto settle = [&] { until([&] { return plan.settled(); }); };
  settle();
  app::ViewTransform closer = plan.view();
  closer.centre = {350, 250}, closer.scale = 20;  // a pixel of the scan to one of the screen
  plan.look(closer);
  settle();
  QPointF at(400, 350);
  const auto mouse = [&](QEvent::Type type) {
    QMouseEvent event(type, at, at, type == QEvent::MouseMove ? Qt::NoButton : Qt::MiddleButton, Qt::MiddleButton, {});
    QApplication::sendEvent(&plan, &event);
  };
  mouse(QEvent::MouseButtonPress);
  const plane::Vec2 from = plan.view().centre;
  movedFrames(plan, "One frame of panning over a scan of A0 at 300 dpi", [&](int i) {
    at += QPointF(i % 30 < 15 ? 12 : -12, 5);
    mouse(QEvent::MouseMove);
  });
  if (plane::distance(from, plan.view().centre) < 1) throw std::logic_error("the plan did not move");
  settle();
  const QImage shown = plan.grab().toImage();
  int dark = 0;
  for (int x = 0; x < shown.width(); ++x) dark += qGray(shown.pixel(x, shown.height() / 2)) < 150 ? 1 : 0;
  if (dark < shown.width() / 150) throw std::logic_error("the plan does not show the scan");
}
#endif

plane::Ring twelveCorners(Vec2 centre) {
  plane::Ring ring;
  for (int i = 0; i < 12; ++i) {
    const double a = i * 0.5235987755982988, r = i % 2 ? 45 : 60;
    ring.push_back({centre.x + r * std::cos(a), centre.y + r * std::sin(a)});
  }
  return ring;
}

void dragging() {
  project::SourceData data;
  data.points = survey(500'000, 0, 4).points;
  const auto empty = project::emptyProject("bench");
  project::ProjectPtr project = project::withSource(*empty, {"survey", ""}, std::move(data), empty->column.front()->id);
  project =
      project::withNewWorks(*project, project->column.back()->id, "Pad", works::Pad{twelveCorners({350, 350}), 52, {}});
  project::Cache cache;
  auto evaluation = project::evaluate(project, cache, {});
  const WorksId id = project->column.back()->works[0]->id;
  int step = 0;
  const auto drag = [&] {
    works::Works works = *project->works(id).works;
    plane::Ring ring = works::outlineOf(works.shape);
    ring[0].x += 0.37 * (++step % 20 < 10 ? 1 : -0.9);
    works.shape = works::withOutline(works.shape, ring);
    project = project::withWorks(*project, works);
  };
  double early = 0, whole = 0;
  int rounds = 12;
  double worst = 0;
  for (int i = 0; i < rounds; ++i) {
    drag();
    const auto start = std::chrono::steady_clock::now();
    double first = 0;
    evaluation = project::evaluate(project, cache, {}, [&](const project::EvaluationPtr&) {
      first = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    });
    const double all = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    if (i < 2) continue;
    early += first, whole += all;
    worst = std::max(worst, first);
  }
  row("One step of dragging a 12-corner pad on 1 000 000 triangles: batters, daylight, volumes, seam",
      fmt::format("{:.0f} ms (worst {:.0f} ms)", 1000 * early / (rounds - 2), 1000 * worst), "50 ms");
  row("The whole evaluation after release", fmt::format("{:.0f} ms", 1000 * whole / (rounds - 2)), "1 000 ms");

#ifdef INSELBERG_BENCH_APP
  app::PlanRequest request;
  request.shown = evaluation->grounds[1].tin;
  request.beneath = evaluation->grounds[0].tin;
  request.view.size = {1160, 1020};
  request.view.fit(request.shown->bounds(), 100);
  app::PlanRenderer renderer;
  renderer.render(request, {});
  int turn = 0;
  const double pan = best(5, [&] {
    request.view.centre.x += ++turn;
    renderer.render(request, {});
  });
  row("Full detail of the plan back after a pan, 1 000 000 triangles on show", fmt::format("{:.0f} ms", 1000 * pan),
      "200 ms");
  request.mode = app::PlanMode::depth;
  request.greatestDepth = 2;  // the evaluation knows it
  renderer.render(request, {});
  const double depths = best(5, [&] {
    request.view.centre.x += ++turn;
    renderer.render(request, {});
  });
  row("The depth map of it at full window", fmt::format("{:.0f} ms", 1000 * depths), "150 ms");
  request.mode = app::PlanMode::relief, request.greatestDepth.reset();
  request.shown = evaluation->grounds[0].tin;
  const auto placed = evaluation->grounds[1].works[0].placement;
  request.pending = placed->facets;
  renderer.render(request, {});
  const double pending = best(5, [&] { renderer.render(request, {}); });
  row("The plan's picture of one step of dragging", fmt::format("{:.0f} ms", 1000 * pending), "50 ms");

  // Frames while panning and zooming, with the picture being drawn anew in the background all the while.
  app::Workspace workspace;
  app::ViewState state(workspace);
  app::PlanView plan(workspace, state);
  plan.resize(828, 729);
  plan.show();
  workspace.commit(project, "bench");
  while (!plan.settled()) QApplication::processEvents(QEventLoop::AllEvents, 20);
  movedFrames(plan, "One frame of zooming, from the kept picture", [&](int i) {
    const QPointF at(300 + i, 350);
    QWheelEvent wheel(at, at, {}, {0, i % 20 < 10 ? 30 : -30}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&plan, &wheel);
  });
#endif
}

// A survey of half a million points with codes and lines, and one vertex of a line moved, step by step.
void surveying() {
  const auto input = survey(500'000, 20'000, 6);
  project::SourceData data;
  for (std::size_t i = 0; i < input.points.size(); ++i) {
    data.points.push_back(input.points[i]);
    data.codes.push_back(i % 2 ? "GL" : "EDGE");
  }
  data.breaklines = input.breaklines;
  const auto empty = project::emptyProject("survey");
  auto project = project::withSource(*empty, {"survey", ""}, std::move(data), empty->surveyed());
  const auto& line = project->sources[0]->data->breaklines[100];
  const project::Feature feature{project->sources[0]->id, project::FeatureKind::line, 100};
  project = project::withNewWorks(*project, project->finished(), "pad",
                                  works::Pad{twelveCorners({350, 250}), hills(350, 250) + 1, {}});
  project::Cache cache;
  project::evaluate(project, cache, {});
  project->sources[0]->makeIndex();
  constexpr int kSteps = 10;
  double editing = 0, shown = 0, whole = 0;
  for (int step = 0; step < kSteps; ++step) {
    const auto start = std::chrono::steady_clock::now();
    const auto since = [&] { return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count(); };
    auto shape = line;
    shape.vertices[50].y += 0.05 * (step + 1);
    const auto next = project::withShape(*project, feature, shape);
    editing = std::max(editing, since());
    double first = 0;
    project::evaluate(next, cache, {}, [&](const project::EvaluationPtr&) { first = since(); });
    shown += first / kSteps, whole += since() / kSteps;
  }
  row("One vertex dragged in a survey of 500 000 points and 20 000 vertices of lines: the edit itself, worst",
      fmt::format("{:.1f} ms", 1000 * editing), "16 ms");
  row("The same: the ground and the works on it shown, and built anew at rest",
      fmt::format("{:.0f} ms, {:.0f} ms", 1000 * shown, 1000 * whole), "300 ms, at rest");
#ifdef INSELBERG_BENCH_APP
  // The same by the mouse, in the window: how long any one step holds it, and how old the picture of the ground is.
  app::MainWindow window;
  window.resize(1280, 800);
  window.show();
  window.workspace().commit(project, "bench");
  window.use("editLines", std::make_unique<app::EditLineTool>(window.plan()));
  window.workspace().chooseGround(project->surveyed());
  window.workspace().chooseFeatures({feature});
  const auto settle = [&] {
    while (!window.plan().settled()) QApplication::processEvents(QEventLoop::AllEvents, 20);
  };
  settle();
  const auto send = [&](QEvent::Type type, QPoint p, Qt::MouseButtons buttons) {
    QMouseEvent e(type, p, window.plan().mapToGlobal(p), type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton,
                  buttons, Qt::NoModifier);
    QApplication::sendEvent(&window.plan(), &e);
  };
  double worst = 0, oldest = 0;
  const auto timed = [&](const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    worst = std::max(worst, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
  };
  QPoint at = window.plan().view().toScreen(line.vertices[50].plan()).toPoint();
  while (window.plan().view().scale < 20) {
    QWheelEvent wheel(at, window.plan().mapToGlobal(at), {}, {0, 120}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                      false);
    QApplication::sendEvent(&window.plan(), &wheel);
    at = window.plan().view().toScreen(line.vertices[50].plan()).toPoint();
  }
  settle();
  for (const bool first : {true, false}) {
    if (first) {
      send(QEvent::MouseMove, at, Qt::NoButton);
      send(QEvent::MouseButtonPress, at, Qt::LeftButton);
    }
    worst = 0;
    for (int step = 0; step < (first ? 6 : 25); ++step) {
      at += QPoint(step % 2, 1);
      const auto before = window.workspace().evaluation();
      const auto start = std::chrono::steady_clock::now();
      timed([&] { send(QEvent::MouseMove, at, Qt::LeftButton); });
      const auto since = [&] {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
      };
      while (window.workspace().evaluation() == before && since() < 4)
        timed([] { QApplication::processEvents(QEventLoop::AllEvents, 1); });
      if (!first) oldest = std::max(oldest, since());
    }
  }
  send(QEvent::MouseButtonRelease, at, Qt::NoButton);
  row("The same in the window: the longest that a step holds it, and until the ground follows, worst",
      fmt::format("{:.1f} ms, {:.0f} ms", 1000 * worst, 1000 * oldest), "16 ms, 300 ms");
  settle();
  window.workspace().discardRecovery();
  window.workspace().finishRecovery();
#endif
}

// Fifty pads on a million triangles, a few of them touching: from nothing, and one dragged, wherever it stands in the
// list.
void manyWorks() {
  project::SourceData data;
  data.points = survey(500'000, 0, 5).points;
  const auto empty = project::emptyProject("many");
  auto project = project::withSource(*empty, {"survey", ""}, std::move(data), empty->surveyed());
  std::mt19937 random(12);
  std::uniform_real_distribution<double> wobble(-8, 8);
  for (int i = 0; i < 50; ++i) {
    const double x = 60 + 65 * (i % 10) + wobble(random), y = 80 + 130 * (i / 10) + wobble(random);
    plane::Ring ring;
    for (int k = 0; k < 8; ++k) ring.push_back({x + 16 * std::cos(k * 0.785), y + 13 * std::sin(k * 0.785)});
    project = project::withNewWorks(*project, project->finished(), "pad", works::Pad{ring, hills(x, y) + 0.8, {}});
  }
  project::Cache warm;
  project::evaluate(empty, warm, {});
  double placing = 0;
  {
    auto bare = project;
    for (const auto& w : project->ground(project->finished())->works) bare = project::withoutWorks(*bare, w->id);
    project::evaluate(bare, warm, {});  // the survey is built already
    placing = best(1, [&] { project::evaluate(project, warm, {}); });
  }
  row("50 pads on 1 000 000 triangles placed and set in, from nothing but the ground", fmt::format("{:.2f} s", placing),
      "5 s");
  for (const auto& [which, where] : {std::pair<std::size_t, const char*>{0, "first"}, {24, "middle"}, {49, "last"}}) {
    auto now = project;
    double early = 0, whole = 0;
    constexpr int kSteps = 8;
    for (int step = 0; step <= kSteps; ++step) {
      works::Works w = *now->ground(now->finished())->works[which];
      w.shape = works::atLevel(w.shape, works::levelOf(w.shape).value() + 0.02);
      now = project::withWorks(*now, w);
      const auto start = std::chrono::steady_clock::now();
      const auto since = [&] {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
      };
      double published = 0;
      project::evaluate(now, warm, {}, [&](project::EvaluationPtr) { published = since(); });
      if (step == 0) continue;  // the ground with the others set in is made at the first step
      early += published / kSteps, whole += since() / kSteps;
    }
    row(fmt::format("One of the 50 dragged, the {} of the list: shown, and whole", where),
        fmt::format("{:.0f} ms, {:.0f} ms", 1000 * early, 1000 * whole), "50 ms, 300 ms");
  }
}

void memory() {
  const ground::BuildInput input = survey(500'000, 10'000, 5);
  resetPeak();
  const long before = nowKilobytes();
  const auto tin = ground::build(input, {}, {}, {}).tin;
  const double triangles = static_cast<double>(tin->triangles().size());
  row("Peak memory while building, per triangle, the input not counted",
      fmt::format("{:.0f} bytes", 1024.0 * static_cast<double>(peakKilobytes() - before) / triangles), "400 bytes");
  tin->index();
  row("Memory of a ground at rest, per triangle, with its search grid",
      fmt::format("{:.0f} bytes", static_cast<double>(tin->bytes()) / triangles), "150 bytes");
}

// A scratch file, gone at the end.
struct TemporaryFile {
  TemporaryFile(const std::string& name, const std::string& content)
      : path((std::filesystem::temp_directory_path() / name).string()) {
    std::ofstream(path, std::ios::binary) << content;
  }
  ~TemporaryFile() { std::filesystem::remove(path); }
  std::string path;
};

// Every tag of a drawing's bytes, with its numbers read: what any reader has to do.
double bareTags(const std::string& bytes, const std::string& path) {
  exchange::DxfTags tags(bytes, path);
  exchange::DxfTag tag;
  double sum = 0;
  while (tags.next(tag)) {
    if (tag.code >= 10 && tag.code < 60) sum += tags.number(tag);
  }
  return sum;
}

void reading() {
  std::string dxf = "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n6\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n";
  std::mt19937 random(3);
  std::uniform_real_distribution<double> place(0, 2000);
  while (dxf.size() < 200'000'000) {
    double x = 412000 + place(random), y = 6187000 + place(random);
    dxf += "0\nPOLYLINE\n8\nCONTOUR\n66\n1\n10\n0.0\n20\n0.0\n30\n0.0\n70\n8\n";
    for (int i = 0; i < 40; ++i, x += 1.7, y += 0.9)
      fmt::format_to(std::back_inserter(dxf), "0\nVERTEX\n8\nCONTOUR\n10\n{:.4f}\n20\n{:.4f}\n30\n{:.3f}\n70\n32\n", x,
                     y, 75.5);
    dxf += "0\nSEQEND\n8\nCONTOUR\n";
    fmt::format_to(std::back_inserter(dxf), "0\nPOINT\n8\nSPOT\n10\n{:.4f}\n20\n{:.4f}\n30\n{:.3f}\n", x, y, 75.5);
  }
  dxf += "0\nENDSEC\n0\nEOF\n";
  {
    const TemporaryFile file("inselberg-bench.dxf", dxf);
    dxf.clear();
    dxf.shrink_to_fit();
    const double bare = best(2, [&] { bareTags(exchange::readBytes(file.path), file.path); });
    const double ours = best(2, [&] { exchange::readDxf(file.path); });
    row("A drawing of 200 MB, against reading its tags and numbers alone",
        fmt::format("{:.2f} x ({:.2f} s : {:.2f} s)", ours / bare, ours, bare), "3 x");
  }
  const auto tin = ground::build(survey(500'000, 0, 7), {}, {}, {}).tin;
  const TemporaryFile file("inselberg-bench.xml", exchange::groundToLandXml(*tin, {{412000, 6187000}}, "existing"));
  const double bare = best(2, [&] {
    const std::string bytes = exchange::readBytes(file.path);
    pugi::xml_document document;
    document.load_buffer(bytes.data(), bytes.size());
  });
  const double ours = best(2, [&] { exchange::readLandXml(file.path); });
  row("A LandXML surface of a million faces, against the XML library alone",
      fmt::format("{:.2f} x ({:.2f} s : {:.2f} s)", ours / bare, ours, bare), "3 x");
}

// A process that stays as small as this one is at its start, and starts others: a process counts the memory of the one
// it was forked from as its own.
class Starter {
 public:
  Starter() {
    int in[2], out[2];
    if (::pipe(in) != 0 || ::pipe(out) != 0) std::abort();
    if (::fork() == 0) {
      ::close(in[1]);
      ::close(out[0]);
      serve(in[0], out[1]);
    }
    ::close(in[0]);
    ::close(out[1]);
    ask_ = in[1];
    answer_ = out[0];
  }
  // The greatest memory of the command line listing a file, which reads it whole and looks it over; 0 when it fails.
  double peakOfListing(const std::string& path) const {
    const std::string line = path + "\n";
    double peak = 0;
    if (::write(ask_, line.data(), line.size()) < 0 || ::read(answer_, &peak, sizeof peak) != sizeof peak) return 0;
    return peak;
  }

 private:
  [[noreturn]] static void serve(int in, int out) {
    const std::string cli = std::filesystem::read_symlink("/proc/self/exe").parent_path() / "inselberg-cli";
    std::string path;
    for (char c; ::read(in, &c, 1) == 1;) {
      if (c != '\n') {
        path += c;
        continue;
      }
      const pid_t child = ::fork();
      if (child == 0) {
        if (!std::freopen("/dev/null", "w", stdout)) ::_exit(1);
        ::execl(cli.c_str(), "inselberg-cli", "import", path.c_str(), nullptr);
        ::_exit(1);
      }
      rusage used{};
      int status = 0;
      ::wait4(child, &status, 0, &used);
      const double peak =
          WIFEXITED(status) && WEXITSTATUS(status) == 0 ? 1024.0 * static_cast<double>(used.ru_maxrss) : 0;
      if (::write(out, &peak, sizeof peak) != sizeof peak) break;
      path.clear();
    }
    ::_exit(0);
  }
  int ask_ = -1, answer_ = -1;
};

// The same for each byte of the file, the program itself not counted.
double memoryPerByte(const Starter& starter, const std::string& path) {
  const TemporaryFile nothing("inselberg-bench-nothing.csv", "1,0,0,0\n2,9,0,0\n3,0,9,0\n");
  return (starter.peakOfListing(path) - starter.peakOfListing(nothing.path)) /
         static_cast<double>(std::filesystem::file_size(path));
}

void memoryRow(const Starter& starter, const std::string& path) {
  row(fmt::format("Memory of reading {}, of {:.0f} MB, for each byte of the file",
                  std::filesystem::path(path).extension().string(),
                  static_cast<double>(std::filesystem::file_size(path)) / 1e6),
      fmt::format("{:.1f} bytes", memoryPerByte(starter, path)), "");
}

// What every reader takes of a ground of 400 000 faces (a spreadsheet: of its points) in its format.
void files(const Starter& starter) {
  const std::string folder = std::filesystem::temp_directory_path() / "inselberg-bench-files";
  std::filesystem::create_directories(folder);
  const auto tin = ground::build(survey(200'000, 0, 7), {}, {}, {}).tin;
  for (const char* ending : {"csv", "dxf", "xml", "geojson", "gpkg", "asc", "tif"}) {
    const std::string path = folder + "/ground." + ending;
    exchange::writeGround(*tin, {{412000, 6187000}}, "ground", path, 0.25, {});
    memoryRow(starter, path);
  }
  for (const auto& [ending, from] : {std::pair("shp", "ground.gpkg ground"), std::pair("xlsx", "ground.csv")}) {
    const std::string path = folder + "/other." + ending;
    const std::string command = fmt::format("cd '{}' && ogr2ogr other.{} {} 2>/dev/null", folder, ending, from);
    if (std::system(command.c_str()) != 0) continue;
    memoryRow(starter, path);
  }
  std::filesystem::remove_all(folder);
}

void pointing() {
  // A drawing's contours: 25 000 lines of 40 vertices.
  std::mt19937 random(9);
  std::uniform_real_distribution<double> place(0, 3000);
  project::SourceData data;
  for (int i = 0; i < 25'000; ++i) {
    ground::Breakline line{{}, false, true};
    double x = place(random), y = place(random);
    for (int k = 0; k < 40; ++k, x += 1.7, y += 0.9) line.vertices.push_back({x, y, 75.5});
    data.breaklines.push_back(std::move(line));
  }
  const auto empty = project::emptyProject("pointing");
  const auto project = project::withSource(*empty, {"contours", ""}, std::move(data), empty->column.front()->id);
  const auto all = [](const project::Source&) { return true; };
  const auto ask = [&](int times) {
    return best(1,
                [&] {
                  for (int i = 0; i < times; ++i) project::meet(*project, {place(random), place(random)}, 2, all);
                }) /
           times;
  };
  const double walked = ask(3);  // asked a few times, the source is walked through
  ask(10);
  const double found = ask(10'000);
  row("What the pointer meets among 1 000 000 vertices of lines, against walking through them",
      fmt::format("{:.4f} x ({:.1f} µs : {:.1f} ms)", found / walked, 1e6 * found, 1e3 * walked), "");
}

void thinning() {
  ground::Raster raster;
  raster.columns = raster.rows = 2000;
  for (std::size_t r = 0; r < raster.rows; ++r) {
    for (std::size_t c = 0; c < raster.columns; ++c) {
      const double x = static_cast<double>(c), y = static_cast<double>(r);
      const bool lake = std::hypot(x - 1200, y - 900) < 150;
      raster.levels.push_back(lake ? std::numeric_limits<float>::quiet_NaN()
                                   : static_cast<float>(hills(x, y) + 0.3 * std::sin(x / 9) * std::cos(y / 11)));
    }
  }
  ground::TinParts parts;
  const double time = best(1, [&] { parts = ground::asTriangles(raster, 0.05, {}); });
  const std::size_t triangles = parts.triangles.size();
  const ground::Tin tin(std::move(parts));
  double worst = 0;
  for (std::size_t r = 0; r < raster.rows; ++r) {
    for (std::size_t c = 0; c < raster.columns; ++c) {
      const double z = raster.level(c, r);
      const auto level = tin.levelAt(raster.place(c, r));
      if (!std::isnan(z) && level) worst = std::max(worst, std::abs(*level - z));
    }
  }
  std::vector<Vec2> plans;
  for (std::size_t r = 0; r < raster.rows; ++r) {
    for (std::size_t c = 0; c < raster.columns; ++c) plans.push_back(raster.place(c, r));
  }
  const double bare = best(1, [&] { ground::triangulate(plans, {}, {}); });
  row("A raster of 4 million cells to within 0.05 m, against triangulating all its cells",
      fmt::format("{:.2f} x ({:.1f} s : {:.1f} s)", time / bare, time, bare), "");
  row("The same: greatest error over all cells, and triangles", fmt::format("{:.4f} m, {}", worst, triangles),
      "0.05 m");
}

// Writes what `content` gives to a file that lives as long as the function made of it.
std::function<void()> onFile(const std::string& name, const std::string& content,
                             std::function<void(const std::string&)> work) {
  const auto file = std::make_shared<TemporaryFile>(name, content);
  return [file, work] { work(file->path); };
}

// Level areas of twelve corners side by side, in rows, their borders shared.
std::vector<project::FlatArea> patchwork(std::size_t n) {
  std::vector<project::FlatArea> areas;
  const auto across = static_cast<std::size_t>(std::sqrt(static_cast<double>(n)));
  for (std::size_t i = 0; i < n; ++i) {
    const double x = 20.0 * static_cast<double>(i % across), y = 20.0 * static_cast<double>(i / across);
    project::FlatArea area{{}, static_cast<double>(i % 7)};
    const plane::Vec2 corners[] = {{x, y}, {x + 20, y}, {x + 20, y + 20}, {x, y + 20}};
    for (int k = 0; k < 4; ++k) {
      const plane::Vec2 a = corners[k], b = corners[(k + 1) % 4];
      for (int part = 0; part < 3; ++part) area.outline.push_back(a + (part / 3.0) * (b - a));
    }
    areas.push_back(std::move(area));
  }
  return areas;
}

void growth() {
  grows("Coverage of a site by areas of twelve corners", 1'000, [](std::size_t n) {
    std::vector<project::DrawnArea> areas;
    for (const project::FlatArea& a : patchwork(n)) areas.push_back({"area", {a.outline, {}}});
    const double size = 20 * std::sqrt(static_cast<double>(n)) + 50;
    const std::vector<plane::Polygon> site{{{{-10, -10}, {size, -10}, {size, size}, {-10, size}}, {}}};
    return [areas, site] { project::coverageOf(areas, site); };
  });
  grows("A stepped and a smooth ground of level areas", 1'000,
        [](std::size_t n) { return [areas = patchwork(n)] { project::steppedAndSmooth(areas, nullptr, {}, {}); }; });
  grows("Contours of a LandXML file", 10'000, [](std::size_t n) {
    std::string xml =
        "<?xml version=\"1.0\"?>\n<LandXML version=\"1.2\"><Units><Metric linearUnit=\"meter\"/></Units>\n"
        "<Surfaces><Surface name=\"s\"><SourceData><Contours>\n";
    for (std::size_t i = 0; i < n; ++i)
      fmt::format_to(std::back_inserter(xml),
                     "<Contour elev=\"{}\"><PntList2D>{} 0 {} 50\n{} 100</PntList2D></Contour>\n", i % 50, i, i + 1, i);
    return onFile("inselberg-growth.xml", xml + "</Contours></SourceData></Surface></Surfaces></LandXML>\n",
                  [](const std::string& path) { exchange::readLandXml(path); });
  });
  grows("Survey points of a LandXML file", 50'000, [](std::size_t n) {
    std::string xml =
        "<?xml version=\"1.0\"?>\n<LandXML version=\"1.2\"><Units><Metric linearUnit=\"meter\"/></Units>\n<CgPoints>\n";
    for (std::size_t i = 0; i < n; ++i)
      fmt::format_to(std::back_inserter(xml), "<CgPoint name=\"{}\">{} {} 5</CgPoint>\n", i, i % 300, i / 300);
    return onFile("inselberg-growth.xml", xml + "</CgPoints></LandXML>\n",
                  [](const std::string& path) { exchange::readLandXml(path); });
  });
  grows("A long oblique breakline among short ones", 50'000, [](std::size_t n) {
    ground::BuildInput input;
    const double size = 2 * std::sqrt(static_cast<double>(n));
    std::mt19937 random(4);
    std::uniform_real_distribution<double> place(0, size);
    for (std::size_t i = 0; i < n; ++i) {
      const double x = place(random), y = place(random);
      input.breaklines.push_back({{{x, y, 5}, {x + 0.7, y + 0.4, 5}}});
    }
    input.breaklines.push_back({{{0, 0, 5}, {size, 0.9 * size, 5}}});
    return [input] { ground::build(input, {}, {}, {}); };
  });
  grows("Breaklines that cross, and a stray one far away", 50'000, [](std::size_t n) {
    ground::BuildInput input;
    std::mt19937 random(5);
    std::uniform_real_distribution<double> place(0, 2 * std::sqrt(static_cast<double>(n))), way(-1.5, 1.5);
    for (std::size_t i = 0; i < n; ++i) {
      const double x = place(random), y = place(random);
      input.breaklines.push_back({{{x, y, 5}, {x + way(random), y + way(random), 5}}});
    }
    input.breaklines.push_back({{{3e6, 5e6, 5}, {3e6 + 1, 5e6, 5}}});
    return [input] { ground::build(input, {}, {}, {}); };
  });
  grows("Points inside a boundary of a twentieth as many corners", 50'000, [](std::size_t n) {
    ground::BuildInput input = survey(n, 0, 6);
    const double half = std::sqrt(static_cast<double>(n)) / 2;
    plane::Polygon boundary;
    for (std::size_t i = 0; i < n / 20; ++i) {
      const double a = 2 * 3.14159265358979 * static_cast<double>(i) / static_cast<double>(n / 20),
                   r = half * (0.8 + 0.1 * std::sin(40 * a));
      boundary.outer.push_back({half + r * std::cos(a), half + r * std::sin(a)});
    }
    input.boundaries.push_back(boundary);
    return [input] {
      const auto built = ground::build(input, {}, {}, {});
      ground::check(*built.tin, input, {}, {}, {});
    };
  });
  grows("Levels written beside the contours of a drawing", 5'000, [](std::size_t n) {
    std::string dxf = "0\nSECTION\n2\nENTITIES\n";
    for (std::size_t i = 0; i < n; ++i) {
      fmt::format_to(std::back_inserter(dxf), "0\nTEXT\n8\nA\n10\n{0}\n20\n1\n40\n2.5\n1\n75.5\n", i);
      fmt::format_to(std::back_inserter(dxf), "0\nPOLYLINE\n8\nC\n66\n1\n70\n8\n");
      for (int k = 0; k < 8; ++k)
        fmt::format_to(std::back_inserter(dxf), "0\nVERTEX\n8\nC\n10\n{}\n20\n{}\n30\n75.5\n", i, 40 * k + 20);
      dxf += "0\nSEQEND\n8\nC\n";
    }
    return onFile("inselberg-growth.dxf", dxf + "0\nENDSEC\n0\nEOF\n",
                  [](const std::string& path) { exchange::readDxf(path); });
  });
  grows("Points that all lie on one line, refused", 200'000, [](std::size_t n) {
    ground::BuildInput input;
    for (std::size_t i = 0; i < n; ++i)
      input.points.push_back({static_cast<double>(i), 2.0 * static_cast<double>(i), 1});
    return [input] {
      try {
        ground::build(input, {}, {}, {});
      } catch (const Error&) {
      }
    };
  });
  grows("Points and one stray point far away", 100'000, [](std::size_t n) {
    ground::BuildInput input = survey(n, 0, 8);
    input.points.push_back({-6e6, -5e5, 0});
    return [input] { ground::build(input, {}, {}, {}); };
  });
  grows("A cloud of points, thinned to 0.05 m", 1'250'000, [](std::size_t n) {
    const ground::BuildInput input = survey(n, 0, 8);
    return [points = input.points] { ground::thin(points, {}, 0.05, {}); };
  });
}

// A page of n short lines in A1, as a PDF.
std::shared_ptr<const std::string> linesPdf(std::size_t n) {
  std::mt19937 random(4);
  std::uniform_real_distribution<double> x(0, 2300), y(0, 1600), d(-20, 20);
  std::string content = "0.5 w\n";
  for (std::size_t i = 0; i < n; ++i) {
    const double a = x(random), b = y(random);
    content += fmt::format("{:.2f} {:.2f} m {:.2f} {:.2f} l S\n", a, b, a + d(random), b + d(random));
  }
  const std::vector<std::string> objects{
      "<< /Type /Catalog /Pages 2 0 R >>", "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
      "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 2384 1684] /Contents 4 0 R >>",
      fmt::format("<< /Length {} >>\nstream\n{}\nendstream", content.size(), content)};
  std::string pdf = "%PDF-1.7\n", table;
  for (std::size_t i = 0; i < objects.size(); ++i) {
    table += fmt::format("{:010} 00000 n \n", pdf.size());
    pdf += fmt::format("{} 0 obj\n{}\nendobj\n", i + 1, objects[i]);
  }
  return std::make_shared<const std::string>(
      pdf + fmt::format("xref\n0 5\n0000000000 65535 f \n{}trailer << /Size 5 /Root 1 0 R >>\nstartxref\n{}\n%%EOF\n",
                        table, pdf.size()));
}

// A scan of A0 at 300 dots per inch: 14 043 by 9933 pixels of grey, lines on it, packed as a TIFF can be.
void sheets() {
  const auto pdf = linesPdf(100'000);
  std::unique_ptr<sheet::Document> document;
  const double first = best(3, [&] {
    document = sheet::openDocument(pdf, "lines.pdf");
    document->draw(1, {0, 0, 841, 594}, 1280, 904, {});
  });
  row("First sight of a page of 100 000 vector lines", fmt::format("{:.2f} s", first), "1 s");
  std::shared_ptr<const sheet::Content> content;
  const double reading = best(3, [&] { content = std::make_shared<const sheet::Content>(document->content(1, {})); });
  row("Its lines read", fmt::format("{:.2f} s", reading), "");
  const sheet::SheetLines lines(content, sheet::byScale(500, 500, {1, 1}));
  std::mt19937 random(5);
  std::uniform_real_distribution<double> x(0, 420), y(0, 297);
  std::size_t met = 0;
  const double snapping = best(3, [&] {
    for (int i = 0; i < 1000; ++i) lines.eachNear({x(random), y(random)}, 1.5, [&](auto, auto) { ++met; });
  });
  row("Snapping among them, a place", fmt::format("{:.3f} ms", snapping), "5 ms");
  grows("Lines of a sheet joined, lines", 100'000, [](std::size_t n) {
    auto all = std::make_shared<sheet::Content>(sheet::openDocument(linesPdf(n), "lines.pdf")->content(1, {}));
    return [all] { sheet::takeLines(all->lines, {{}, {}, {}, 0.5}); };
  });
  const int width = 14'043, height = 9'933;
  const auto pyramid = std::make_unique<sheet::TilePyramid>(width, height);
  std::vector<std::uint8_t> rows(std::size_t{3} * width * 64, 250);
  for (std::size_t i = 0; i < rows.size(); i += 977) rows[i] = 40;
  const double packing = best(1, [&] {
    for (int r = 0; r < height; r += 64)
      pyramid->addRows(std::span(rows).first(std::size_t{3} * width * std::min(64, height - r)));
  });
  row("An A0 scan at 300 dpi put into tiles", fmt::format("{:.2f} s", packing), "2 s, with reading");
  row("Memory it holds then", fmt::format("{} MB", pyramid->bytes() >> 20), "300 MB");
}

#ifdef INSELBERG_BENCH_APP
// The relief of a million triangles at 1280 x 800. Needs a display with OpenGL: scripts/bench.sh has one.
void relief() {
  if (QGuiApplication::platformName() == "offscreen") return;
  app::ReliefRequest request;
  request.shown = ground::build(survey(500'000, 0, 3), {}, {}, {}).tin;
  const plane::Box& box = request.shown->bounds();
  request.middle = {box.centre().x, box.centre().y, request.shown->minLevel()};
  request.interval = ground::proposedInterval(*request.shown);
  request.camera.size = {1280, 800};
  request.camera.fit(box, request.shown->minLevel(), request.shown->maxLevel());
  app::ReliefRenderer renderer;
  app::ReliefPicture picture;
  request.moving = true;  // as the window asks for it
  const double first = best(1, [&] { picture = renderer.render(request, {}); });
  row(fmt::format("The relief's first picture of 1 000 000 triangles at 1280 x 800 ({} drawn)", picture.triangles),
      fmt::format("{:.2f} s", first), "1 s");
  request.moving = false;
  const double full = best(1, [&] { picture = renderer.render(request, {}); });
  row(fmt::format("The same in full, after it ({} drawn)", picture.triangles), fmt::format("{:.2f} s", full), "");
  const auto frames = [&](const char* what, double distance) {
    request.camera.distance = distance;
    request.moving = true;
    const double frame = best(10, [&] {
      request.camera.turn(3, 0);
      picture = renderer.render(request, {});
    });
    row(fmt::format("{} ({} triangles drawn)", what, picture.triangles), fmt::format("{:.0f} ms", 1000 * frame),
        "33 ms");
  };
  const double whole = request.camera.distance;
  frames("A frame of turning it, the whole ground in sight", whole);
  frames("The same from a tenth of the distance", whole / 10);
  request.moving = false;
  row("The same at rest, in full", fmt::format("{:.0f} ms", 1000 * best(3, [&] { renderer.render(request, {}); })), "");
  row("Memory the relief holds of it", fmt::format("{} MB", renderer.bytes() >> 20), "200 MB");
  renderer.release();
}
#endif

}  // namespace
}  // namespace inselberg::bench

int main(int argc, char** argv) {
  using namespace inselberg::bench;
  const Starter starter;
#ifdef INSELBERG_BENCH_APP
  if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  const QTemporaryDir scratch;
  qputenv("XDG_STATE_HOME", scratch.path().toUtf8());
  const QApplication application(argc, argv);
#endif
  const std::string only = argc > 1 ? argv[1] : "";
  fmt::print("| what | measured | wanted |\n|---|---|---|\n");
  const auto wanted = [&](const char* name) { return only.empty() || only == name; };
  if (wanted("memory")) memory();
  if (wanted("building")) building();
  if (wanted("volumes")) volumes();
  if (wanted("sections")) sections();
  if (wanted("dragging")) dragging();
  if (wanted("surveying")) surveying();
  if (wanted("works")) manyWorks();
  if (wanted("kinds")) kinds();
  if (wanted("demo")) stagesOfDemo();
  if (wanted("stages")) stages();
  if (wanted("reading")) reading();
  if (wanted("files")) files(starter);
  if (wanted("pointing")) pointing();
  if (wanted("thinning")) thinning();
  if (wanted("growth")) growth();
  if (wanted("sheets")) sheets();
#ifdef INSELBERG_BENCH_APP
  if (wanted("panning")) panning();
  if (wanted("views")) viewMemory();
  if (wanted("relief")) relief();
#endif
}
