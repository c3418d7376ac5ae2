#include "workspace/coverages.h"

#include <QCoreApplication>
#include <algorithm>

#include "base/error.h"
#include "project/design_doubts.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

QString tr(const char* text) {
  return QCoreApplication::translate("Coverages", text);
}

QString nameOf(project::AreaUse use) {
  switch (use) {
    case project::AreaUse::works:
      return tr("Works");
    case project::AreaUse::strips:
      return tr("Strips");
    case project::AreaUse::buildUps:
      return tr("Build-ups");
    case project::AreaUse::regions:
      return tr("Regions");
  }
  return {};
}

}  // namespace

const project::Coverage& Coverages::of(const project::Project& project, project::AreaUse use) {
  Kept& kept = kept_[static_cast<std::size_t>(use)];
  auto areas = project::areasFor(project, use);
  auto site = project::siteOf(project);
  if (kept.known && areas == kept.areas && site == kept.site) return kept.coverage;
  project::Coverage coverage;
  try {
    coverage = project::coverageOf(areas, site);
  } catch (const Error&) {
    // Outlines that were sound when they were drawn; where they are not, nothing is claimed.
  }
  kept = {std::move(areas), std::move(site), std::move(coverage), true};
  return kept.coverage;
}

QString told(project::AreaUse use, const project::Coverage& c) {
  QString text =
      c.site > 0
          ? tr("%1 cover %2 of the site, %3 are left").arg(nameOf(use), lengths::area(c.covered), lengths::area(c.left))
          : tr("%1 cover %2").arg(nameOf(use), lengths::area(c.covered));
  const auto slivers = std::count_if(c.parts.begin(), c.parts.end(), [](const project::CoveragePart& part) {
    return part.kind == project::CoveragePart::Kind::sliver;
  });
  if (slivers > 0) text += slivers == 1 ? tr("; 1 sliver") : tr("; %1 slivers").arg(slivers);
  if (c.twice >= 0.01) text += tr("; %1 twice").arg(lengths::area(c.twice));
  return text;
}

}  // namespace inselberg::app
