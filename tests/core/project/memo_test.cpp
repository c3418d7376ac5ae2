// What is kept from an earlier evaluation is never of another project: each member changed alone gives what a fresh
// evaluation gives, and something else than before.
#include <catch2/catch.hpp>
#include <map>

#include "project/evaluate.h"
#include "support/projects.h"

using namespace inselberg;
using namespace inselberg::testing;

namespace {

// All that an evaluation tells, as numbers and texts, in short.
std::string told(const project::Evaluation& e) {
  std::vector<std::string> all;
  const auto number = [&](double v) { all.push_back(std::to_string(v)); };
  const auto volume = [&](const quantity::Volume& v) {
    for (const double x : {v.cut, v.fill, v.cutArea, v.fillArea, v.maxCut, v.maxFill, v.onlyFrom, v.onlyTo}) number(x);
  };
  for (const auto& g : e.grounds) {
    all.push_back(g.problem);
    number(g.tin ? static_cast<double>(g.tin->triangles().size()) : -1);
    for (int i = 0; i < 200; ++i) {
      const auto z = g.levelAt({7.3 * (i % 14) + 1.1, 7.1 * (i / 14) + 2.3});
      number(z.value_or(-999));
    }
    for (const auto& d : g.doubts) all.push_back(d.text);
    for (const auto& w : g.works) {
      volume(w.volume);
      number(w.placement->footprintArea);
      number(static_cast<double>(w.placement->facets->triangles().size()));
    }
  }
  for (const auto& s : e.seams) {
    number(s.volume ? 1 : 0);
    if (s.volume) volume(*s.volume);
  }
  Hasher hasher;
  for (const std::string& text : all) hasher.text(text);
  return hasher.finish().hex();
}

}  // namespace

TEST_CASE("After each change alone a cache that knows the project before gives what a fresh one gives", "[random]") {
  std::map<std::string, int> mattered;  // in how many of the projects each change did
  for (unsigned seed = 0; seed < 4; ++seed) {
    CAPTURE(seed);
    const auto p = everything(seed);
    project::Cache cache;
    const auto before = told(*project::evaluate(p, cache, {}));
    for (const auto& [name, change] : loudChanges()) {
      CAPTURE(name);
      const auto q = change(*p);
      const auto remembered = told(*project::evaluate(q, cache, {}));
      project::Cache fresh;
      CHECK(remembered == told(*project::evaluate(q, fresh, {})));
      mattered[name] += remembered != before ? 1 : 0;
      CHECK(told(*project::evaluate(p, cache, {})) == before);
    }
    for (const auto& [name, change] : quietChanges()) {
      CAPTURE(name);
      const auto after = told(*project::evaluate(change(*p), cache, {}));
      if (name == "works name" || name == "compared") continue;  // doubts name the works; a comparison is told
      CHECK(after == before);
    }
  }
  for (const auto& [name, times] : mattered) {
    CAPTURE(name);
    CHECK(times > 0);
  }
}

TEST_CASE("Curing flats is part of what a ground is remembered by") {
  // Contours that turn back on themselves leave flats.
  project::SourceData data;
  for (int k = 0; k < 5; ++k) {
    ground::Breakline line{{}, false, true};
    for (int i = -6; i <= 6; ++i) line.vertices.push_back({50.0 + 6 * i, 10.0 + 12 * k + 2.5 * std::abs(i), 10.0 + k});
    data.breaklines.push_back(std::move(line));
  }
  const auto empty = project::emptyProject("flats");
  const auto p = project::withSource(*empty, {"c", ""}, std::move(data), empty->column.front()->id);
  ground::BuildRules rules;
  rules.cureFlats = true;
  const auto cured = project::withRules(*p, p->column.front()->id, rules);
  project::Cache cache;
  const auto plain = told(*project::evaluate(p, cache, {})), after = told(*project::evaluate(cured, cache, {}));
  CHECK(plain != after);
  project::Cache fresh;
  CHECK(after == told(*project::evaluate(cured, fresh, {})));
}
