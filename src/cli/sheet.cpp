// Plan sheets: what is on their pages, and what is taken off them.
#include <fmt/format.h>

#include <charconv>
#include <memory>
#include <nlohmann/json.hpp>

#include "base/error.h"
#include "base/lower_case.h"
#include "base/quantity.h"
#include "calls.h"
#include "exchange/sheet_file.h"
#include "exchange/text_file.h"
#include "output.h"

namespace inselberg::cli {
namespace {

struct Asked {
  std::string file, scale, scaleX, scaleY, colour, minWidth, maxWidth, join, out;
  std::vector<std::string> fit;
  int page = 0;
  bool list = false, levels = false, json = false;
};

double lengthOnSheet(const std::string& option, const std::string& text) {
  const double value = numberOf(option, text);
  if (value < 0) throw Error(text + " is not a usable length", {"", 0, option}, "give millimetres on the sheet");
  return value;
}

void listPages(const Asked& asked) {
  const auto document = exchange::openSheet(exchange::readSheetFile(asked.file));
  nlohmann::ordered_json pages = nlohmann::ordered_json::array();
  for (int number = 1; number <= document->pages(); ++number) {
    const sheet::PageFacts facts = document->facts(number);
    const sheet::Content content = document->content(number, kQuiet);
    const bool placed = document->ownPlace(number).has_value();
    if (asked.json) {
      const auto mm = [&](double v) {
        return facts.mmPerUnit ? nlohmann::ordered_json(v) : nlohmann::ordered_json(nullptr);
      };
      nlohmann::ordered_json page{
          {"number", number},         {"width_mm", mm(facts.widthMm())}, {"height_mm", mm(facts.heightMm())},
          {"lines", content.strokes}, {"texts", content.texts.size()},   {"images", content.images},
          {"georeferenced", placed}};
      if (facts.picture) page.update({{"width_px", facts.width}, {"height_px", facts.height}});
      pages.push_back(std::move(page));
      continue;
    }
    const std::string size = facts.mmPerUnit ? fmt::format("{:.1f} x {:.1f} mm", facts.widthMm(), facts.heightMm())
                                             : fmt::format("{:.0f} x {:.0f} pixels", facts.width, facts.height);
    say("page {}: {}, {} lines, {} texts, {} images{}\n", number, size, content.strokes, content.texts.size(),
        content.images, placed ? ", places itself" : "");
  }
  if (asked.json) sayJson({{"pages", std::move(pages)}});
}

// "X,Y=E,N".
sheet::Control controlOf(const std::string& text) {
  double values[4];
  const char* at = text.data();
  const char* const end = at + text.size();
  for (int i = 0; i < 4; ++i) {
    const auto [next, error] = std::from_chars(at, end, values[i]);
    const char after = i == 1 ? '=' : i == 3 ? '\0' : ',';
    const bool right = error == std::errc() && std::isfinite(values[i]) && std::abs(values[i]) <= 1e8 &&
                       (i == 3 ? next == end : next != end && *next == after);
    if (!right)
      throw Error("\"" + text + "\" is no point", {"", 0, "--fit"},
                  "give X,Y=E,N: a place on the sheet, and its easting and northing");
    at = next + 1;
  }
  return {{values[0], values[1]}, {values[2], values[3]}};
}

struct Placed {
  sheet::Fit fit;
  std::string system;
};

Placed placementOf(const Asked& asked, sheet::Document& document, int page, const sheet::PageFacts& facts) {
  if (!asked.fit.empty()) {
    std::vector<sheet::Control> controls;
    for (const std::string& text : asked.fit) controls.push_back(controlOf(text));
    return {sheet::fitTo(controls), {}};
  }
  const bool unlike = !asked.scaleX.empty();
  if (!unlike && asked.scale.empty()) {
    if (auto own = exchange::placeOf(document, page, asked.file, {})) return {std::move(own->fit), own->system};
    throw Error("nothing says where the sheet lies", {asked.file}, "give --scale, --scale-x and --scale-y, or --fit");
  }
  const double x = positiveOf(unlike ? "--scale-x" : "--scale", unlike ? asked.scaleX : asked.scale);
  const double y = unlike ? positiveOf("--scale-y", asked.scaleY) : x;
  if (!facts.mmPerUnit)
    throw Error("the picture has no resolution of its own, so no scale", {asked.file},
                "give two or more points with --fit");
  return {{sheet::byScale(x, y, *facts.mmPerUnit), {}, 0}, {}};
}

exchange::SheetFormat formatOf(const std::string& name) {
  const std::string low = lowerCase(name);
  return low.ends_with(".dxf")   ? exchange::SheetFormat::dxf
         : low.ends_with(".csv") ? exchange::SheetFormat::csv
                                 : exchange::SheetFormat::geoJson;
}

sheet::TakeRules rulesOf(const Asked& asked) {
  sheet::TakeRules rules;
  if (!asked.colour.empty()) {
    const std::string digits = asked.colour.starts_with('#') ? asked.colour.substr(1) : asked.colour;
    sheet::Colour colour = 0;
    const auto [end, error] = std::from_chars(digits.data(), digits.data() + digits.size(), colour, 16);
    if (digits.size() != 6 || error != std::errc() || end != digits.data() + digits.size())
      throw Error("\"" + asked.colour + "\" is no colour", {"", 0, "--colour"}, "give it as RRGGBB, as in C03020");
    rules.colour = colour;
  }
  if (!asked.minWidth.empty()) rules.minWidth = lengthOnSheet("--min-width", asked.minWidth);
  if (!asked.maxWidth.empty()) rules.maxWidth = lengthOnSheet("--max-width", asked.maxWidth);
  if (!asked.join.empty()) rules.join = lengthOnSheet("--join", asked.join);
  return rules;
}

void takeOff(const Asked& asked) {
  const sheet::TakeRules rules = rulesOf(asked);
  const auto document = exchange::openSheet(exchange::readSheetFile(asked.file));
  if (asked.page == 0 && document->pages() > 1)
    throw Error(fmt::format("the file has {} pages", document->pages()), {asked.file}, "say which with --page");
  const int page = asked.page == 0 ? 1 : asked.page;
  const sheet::PageFacts facts = document->facts(page);
  const Placed placed = placementOf(asked, *document, page, facts);
  const sheet::Placement& placement = placed.fit.placement;
  const sheet::Content content = document->content(page, kQuiet);
  const auto lines = sheet::takeLines(content.lines, rules);
  const auto levels = asked.levels ? sheet::spotTexts(content) : std::vector<sheet::SpotText>();
  const std::vector<std::string> doubts = sheet::doubtsOf(placement);
  if (!asked.out.empty())
    exchange::writeWhole(asked.out,
                         exchange::sheetContent(formatOf(asked.out), lines, levels, placement, placed.system));
  const double perUnit = facts.picture ? 1 : 1000;
  if (asked.json) {
    sayJson({{"scale_x", placement.metresX() * perUnit},
             {"scale_y", placement.metresY() * perUnit},
             {"rotation_deg", placement.rotation()},
             {"residuals_m", placed.fit.residuals},
             {"rms_m", placed.fit.rms},
             {"lines", lines.size()},
             {"points", levels.size()},
             {"doubts", doubts}});
    return;
  }
  if (facts.picture) {
    say("{:.4g} m along and {:.4g} m up a pixel", placement.metresX(), placement.metresY());
  } else {
    say("1 : {:.6g} along and 1 : {:.6g} up the sheet", placement.metresX() * perUnit, placement.metresY() * perUnit);
  }
  say(", turned by {:.3f}°\n", placement.rotation());
  for (std::size_t i = 0; i < placed.fit.residuals.size(); ++i)
    say("  point {}: {:.3f} m off\n", i + 1, placed.fit.residuals[i]);
  for (const std::string& doubt : doubts) say("doubt: {}\n", doubt);
  say("{} lines, {} points\n", lines.size(), levels.size());
}

}  // namespace

void addSheet(CLI::App& app) {
  const auto asked = std::make_shared<Asked>();
  auto* call = app.add_subcommand("sheet", "Lines and levels from a plan sheet");
  call->add_option("FILE", asked->file, "A PDF or a picture (" + sheet::sheetEndings() + ")")->required();
  auto* list = call->add_flag("--list", asked->list, "Tell the pages and what is on them");
  call->add_option("--page", asked->page, "Its number, from 1")->excludes(list);
  auto* scale = call->add_option("--scale", asked->scale, "1 to so much")->excludes(list);
  auto* x = call->add_option("--scale-x", asked->scaleX, "The same along the sheet alone")->excludes(scale, list);
  auto* y =
      call->add_option("--scale-y", asked->scaleY, "The same up the sheet alone")->excludes(scale, list)->needs(x);
  x->needs(y);
  call->add_option(
          "--fit", asked->fit,
          "X,Y=E,N: a place on the sheet (mm from the lower left; pixels of a picture) and on the ground; may repeat")
      ->excludes(scale, x, list)
      ->take_all();
  call->add_option("--colour", asked->colour, "Lines of this colour alone, RRGGBB");
  call->add_option("--min-width", asked->minWidth, "Lines no thinner than this, mm");
  call->add_option("--max-width", asked->maxWidth, "Lines no thicker than this, mm");
  call->add_option("--join", asked->join, "Join ends of like lines no farther apart than this, mm");
  call->add_flag("--levels", asked->levels, "Numbers in the texts as points");
  call->add_option("-o,--output", asked->out, "Lines and levels (.dxf, .geojson), or levels (.csv)")
      ->excludes(list)
      ->check([](const std::string& name) {
        const std::string low = lowerCase(name);
        return low.ends_with(".dxf") || low.ends_with(".geojson") || low.ends_with(".csv")
                   ? std::string()
                   : std::string("must end in .dxf .geojson or .csv");
      });
  call->add_flag("--json", asked->json, "Print JSON");
  call->callback([asked] {
    if (asked->list) {
      listPages(*asked);
    } else {
      takeOff(*asked);
    }
  });
}

}  // namespace inselberg::cli
