// Poppler behind one door: its core, which tells what is drawn, as its bindings do not. Its messages are dropped; what
// it makes of a damaged file is taken when there are pages, and refused in our words when there are none.
#include "sheet/pdf.h"

#include <ErrorCodes.h>
#include <GlobalParams.h>
#include <PDFDoc.h>
#include <Page.h>
#include <SplashOutputDev.h>
#include <fmt/format.h>
#include <splash/SplashBitmap.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <limits>
#include <mutex>
#include <numeric>

#include "base/error.h"
#include "sheet/geo_place.h"
#include "sheet/pdf_content.h"

namespace inselberg::sheet {
namespace {

constexpr double kMmPerPoint = 25.4 / 72;
constexpr double kNone = std::numeric_limits<double>::quiet_NaN();

void startLibrary() {
  static std::once_flag once;
  std::call_once(once, [] {
    globalParams = std::make_unique<GlobalParams>();
    setErrorCallback([](ErrorCategory, Goffset, const char*) {});
  });
}

// Links and fields of a form are the reader's, not the drawing's.
bool isDrawing(Annot* annot, void*) {
  return annot->getType() != Annot::typeLink && annot->getType() != Annot::typeWidget &&
         annot->getType() != Annot::typePopup;
}

struct Watch {
  const Progress& progress;
  const ContentOutput* output = nullptr;
  // Asked while a page is drawn; true: stop.
  static bool stop(void* data) {
    const auto* watch = static_cast<const Watch*>(data);
    return watch->progress.stopped() || (watch->output && watch->output->tooMuch());
  }
};

std::optional<double> numberAt(const Object& array, int i) {
  if (!array.isArray() || i >= array.arrayGetLength()) return std::nullopt;
  const Object number = array.arrayGet(i);
  if (!number.isNum() || !std::isfinite(number.getNum())) return std::nullopt;
  return number.getNum();
}

// Draws pages as they are seen; but a line with more dashes than could be told apart is drawn through, as one drawn
// with dashes of nearly no length would keep the library busy for ever.
class Screen final : public SplashOutputDev {
 public:
  using SplashOutputDev::SplashOutputDev;

  void stroke(GfxState* state) override {
    double start = 0;
    std::vector<double> dash = state->getLineDash(&start);
    constexpr double kMost = 100'000;  // dashes; not more for what is no number
    if (dash.empty() || dashes(*state->getPath(), dash) <= kMost) return SplashOutputDev::stroke(state);
    state->setLineDash({}, 0);
    updateLineDash(state);
    SplashOutputDev::stroke(state);
    state->setLineDash(std::move(dash), start);
    updateLineDash(state);
  }

 private:
  // Along the corners of a path, and of what its curves hang on, which are no shorter.
  static double dashes(const GfxPath& path, const std::vector<double>& dash) {
    double length = 0;
    for (int i = 0; i < path.getNumSubpaths(); ++i) {
      const GfxSubpath& part = *path.getSubpath(i);
      for (int k = 1; k < part.getNumPoints(); ++k)
        length += std::hypot(part.getX(k) - part.getX(k - 1), part.getY(k) - part.getY(k - 1));
    }
    return length / std::accumulate(dash.begin(), dash.end(), 0.0) * static_cast<double>(dash.size());
  }
};

class Pdf final : public Document {
 public:
  Pdf(std::shared_ptr<const std::string> bytes, std::string name) : bytes_(std::move(bytes)), name_(std::move(name)) {
    startLibrary();
    doc_ = std::make_unique<PDFDoc>(
        new MemStream(bytes_->data(), 0, static_cast<Goffset>(bytes_->size()), Object(objNull)));
    if (!doc_->isOk()) {
      if (doc_->getErrorCode() == errEncrypted)
        throw Error("the PDF is protected by a password", {name_}, "save it without one, then bring it in");
      throw Error("the PDF is damaged", {name_}, "have it made anew");
    }
    if (doc_->getNumPages() < 1) throw Error("the PDF has no pages", {name_}, "check that it was made whole");
  }

  int pages() const override { return doc_->getNumPages(); }

  PageFacts facts(int number) override {
    const Page& page = pageOf(number);
    double width = page.getCropWidth(), height = page.getCropHeight();
    if (page.getRotate() % 180 != 0) std::swap(width, height);
    const double mm = mmPerPoint(number);
    const PageFacts facts{width * mm, height * mm, Vec2{1, 1}, false};
    if (!(facts.width > 0 && facts.height > 0 && facts.width < kLongestSide && facts.height < kLongestSide))
      throw Error("the page has no size that could be drawn", {name_, 0, fmt::format("page {}", number)},
                  "have it made anew");
    return facts;
  }

  Content content(int number, const Progress& progress) override {
    facts(number);
    Content content;
    ContentOutput output(content, mmPerPoint(number));
    Watch watch{progress, &output};
    pageOf(number).displaySlice(&output, 72, 72, 0, false, true, -1, -1, -1, -1, false, &Watch::stop, &watch,
                                &isDrawing);
    output.finish();
    progress.check();
    if (output.tooMuch())
      throw Error("more is drawn on the page than can be taken", {name_, 0, fmt::format("page {}", number)},
                  "have it made anew with fewer lines, or as a picture");
    return content;
  }

  std::optional<OwnPlace> ownPlace(int number) override {
    facts(number);
    const Object dict = doc_->getXRef()->fetch(pageOf(number).getRef());
    if (!dict.isDict()) return std::nullopt;
    const Object views = dict.dictLookup("VP");
    // The largest view is the plan; others are keys and insets.
    std::optional<OwnPlace> best;
    double largest = 0;
    for (int i = 0; views.isArray() && i < views.arrayGetLength(); ++i) {
      double area = 0;
      if (auto place = placeOfView(number, views.arrayGet(i), area); place && area > largest) {
        largest = area;
        best = std::move(place);
      }
    }
    return best;
  }

  Bitmap draw(int number, const Box& part, int width, int height, const Progress& progress) override {
    const PageFacts page = facts(number);
    Bitmap bitmap{width, height, std::vector<std::uint8_t>(std::size_t(4) * width * height, 255)};
    const double acrossMm = width / part.width(), upMm = height / part.height();  // pixels per mm
    SplashColor paper{255, 255, 255, 255};
    Screen output(splashModeXBGR8, 4, false, paper, true, splashThinLineDefault);
    output.setVectorAntialias(true);
    output.setFontAntialias(true);
    output.startDoc(doc_.get());
    const double points = mmPerPoint(number) * 72;
    Watch watch{progress};
    const auto pixel = [](double v) { return static_cast<int>(std::lround(v)); };
    pageOf(number).displaySlice(&output, acrossMm * points, upMm * points, 0, false, true, pixel(part.minX * acrossMm),
                                pixel((page.height - part.maxY) * upMm), width, height, false, &Watch::stop, &watch,
                                &isDrawing);
    progress.check();
    SplashBitmap* drawn = output.getBitmap();
    const int columns = std::min(width, drawn->getWidth()), rows = std::min(height, drawn->getHeight());
    for (int row = 0; row < rows; ++row)
      std::memcpy(&bitmap.pixels[std::size_t(4) * row * width], drawn->getDataPtr() + row * drawn->getRowSize(),
                  std::size_t(4) * columns);
    return bitmap;
  }

 private:
  Page& pageOf(int number) const {
    Page* page = number >= 1 && number <= pages() ? doc_->getPage(number) : nullptr;
    if (!page && number >= 1 && number <= pages())
      throw Error("the page is damaged", {name_, 0, fmt::format("page {}", number)}, "have the PDF made anew");
    if (!page)
      throw Error(fmt::format("there is no page {}", number), {name_}, fmt::format("it has pages 1 to {}", pages()));
    return *page;
  }

  double mmPerPoint(int number) const {
    const Object dict = doc_->getXRef()->fetch(pageOf(number).getRef());
    const Object unit = dict.isDict() ? dict.dictLookup("UserUnit") : Object(objNull);
    return kMmPerPoint * (unit.isNum() && unit.getNum() > 0 ? unit.getNum() : 1);
  }

  // From the page's own coordinates, before its turn, to mm.
  Vec2 onPage(int number, Vec2 p) const {
    const Page& page = pageOf(number);
    const PDFRectangle& box = *page.getCropBox();
    const double mm = mmPerPoint(number), x = (p.x - box.x1) * mm, y = (p.y - box.y1) * mm;
    const double width = (box.x2 - box.x1) * mm, height = (box.y2 - box.y1) * mm;
    switch (((page.getRotate() % 360) + 360) % 360) {
      case 90:
        return {y, width - x};
      case 180:
        return {width - x, height - y};
      case 270:
        return {height - y, x};
      default:
        return {x, y};
    }
  }

  std::optional<OwnPlace> placeOfView(int number, const Object& view, double& area) const {
    if (!view.isDict()) return std::nullopt;
    const Object box = view.dictLookup("BBox"), measure = view.dictLookup("Measure");
    if (!measure.isDict() || !measure.dictLookup("Subtype").isName("GEO")) return std::nullopt;
    const auto x0 = numberAt(box, 0), y0 = numberAt(box, 1), x1 = numberAt(box, 2), y1 = numberAt(box, 3);
    if (!x0 || !y0 || !x1 || !y1) return std::nullopt;
    area = std::abs((*x1 - *x0) * (*y1 - *y0));
    const Object places = measure.dictLookup("GPTS"), shares = measure.dictLookup("LPTS");
    const double corners[] = {0, 0, 0, 1, 1, 1, 1, 0};  // where it gives none
    std::vector<Control> controls;
    for (int i = 0; places.isArray() && i + 1 < std::min(places.arrayGetLength(), 2000); i += 2) {
      const auto north = numberAt(places, i), east = numberAt(places, i + 1);
      const auto share = [&](int k) { return numberAt(shares, k).value_or(k < 8 ? corners[k] : kNone); };
      const double u = share(i), v = share(i + 1);
      if (!north || !east || std::isnan(u + v)) return std::nullopt;
      controls.push_back({onPage(number, {*x0 + u * (*x1 - *x0), *y0 + v * (*y1 - *y0)}), {*east, *north}});
    }
    if (controls.size() < 3) return std::nullopt;
    const Object system = measure.dictLookup("GCS");
    if (!system.isDict()) return std::nullopt;
    const Object wkt = system.dictLookup("WKT"), code = system.dictLookup("EPSG");
    return placeFromDegrees(std::move(controls), wkt.isString() ? wkt.getString()->toStr() : std::string(),
                            code.isInt() ? code.getInt() : 0);
  }

  std::shared_ptr<const std::string> bytes_;
  std::string name_;
  std::unique_ptr<PDFDoc> doc_;
};

}  // namespace

std::unique_ptr<Document> openPdf(std::shared_ptr<const std::string> bytes, const std::string& name) {
  return std::make_unique<Pdf>(std::move(bytes), name);
}

}  // namespace inselberg::sheet
