// Pixels by GDAL, whose drivers are named one by one: no file makes it look elsewhere. A picture is gone through once
// from the top, whatever its format, and kept in packed tiles: none of the formats has to be read in places.
#include "sheet/picture.h"

#include <cpl_conv.h>
#include <cpl_string.h>
#include <cpl_vsi.h>
#include <fmt/format.h>
#include <gdal.h>
#include <ogr_srs_api.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <mutex>

#include "base/error.h"
#include "sheet/quiet.h"
#include "sheet/tile_pyramid.h"

namespace inselberg::sheet {
namespace {

// A file in memory as the library sees it.
class MemoryFile {
 public:
  MemoryFile(std::string path, const std::string& bytes) : path_(std::move(path)) {
    // The library does not write to what it does not own.
    auto* data = reinterpret_cast<GByte*>(const_cast<char*>(bytes.data()));
    VSILFILE* file = VSIFileFromMemBuffer(path_.c_str(), data, bytes.size(), FALSE);
    if (file) VSIFCloseL(file);
  }
  ~MemoryFile() { VSIUnlink(path_.c_str()); }
  MemoryFile(const MemoryFile&) = delete;
  MemoryFile& operator=(const MemoryFile&) = delete;
  const std::string& path() const { return path_; }

 private:
  std::string path_;
};

struct CloseDataset {
  void operator()(GDALDatasetH d) const { GDALClose(d); }
};
using Dataset = std::unique_ptr<void, CloseDataset>;

// How numbers of a dataset become colours.
enum class Inks { grey, palette, rgb, cmyk };

// Rows of a dataset as three bytes a pixel, on white.
class RowReader {
 public:
  RowReader(GDALDatasetH dataset, bool inverted, const std::string& name) : dataset_(dataset), inverted_(inverted) {
    const GDALRasterBandH first = GDALGetRasterBand(dataset, 1);
    type_ = GDALGetRasterDataType(first);
    if (type_ != GDT_Byte && type_ != GDT_UInt16)
      throw Error("the picture holds numbers that are no colours", {name}, "bring a raster of levels in as a ground");
    const int bands = GDALGetRasterCount(dataset);
    const auto meaning = [&](int band) { return GDALGetRasterColorInterpretation(GDALGetRasterBand(dataset, band)); };
    table_ = GDALGetRasterColorTable(first);
    inks_ = table_                                     ? Inks::palette
            : bands >= 4 && meaning(1) == GCI_CyanBand ? Inks::cmyk
            : bands >= 3                               ? Inks::rgb
                                                       : Inks::grey;
    used_ = inks_ == Inks::cmyk ? 4 : inks_ == Inks::rgb ? 3 : 1;
    alpha_ = bands > used_ && meaning(used_ + 1) == GCI_AlphaBand;
    const char* bits = GDALGetMetadataItem(first, "NBITS", "IMAGE_STRUCTURE");
    most_ = std::ldexp(1.0, bits ? std::clamp(std::atoi(bits), 1, 16) : type_ == GDT_Byte ? 8 : 16) - 1;
    for (std::size_t v = 0; v < byteOf_.size(); ++v)
      byteOf_[v] = static_cast<std::uint8_t>(std::min(255.0, static_cast<double>(v) * 255 / most_) + 0.5);
  }

  // False when the rows cannot be read.
  bool read(int row, int rows, int width, std::vector<std::uint8_t>& rgb) {
    const int bands = used_ + (alpha_ ? 1 : 0);
    raw_.resize(std::size_t(width) * rows * bands);
    int list[] = {1, 2, 3, 4, 5};
    if (GDALDatasetRasterIO(dataset_, GF_Read, 0, row, width, rows, raw_.data(), width, rows, GDT_UInt16, bands, list,
                            2 * bands, 2 * bands * width, 2) != CE_None)
      return false;
    rgb.resize(std::size_t{3} * width * rows);
    const std::size_t pixels = std::size_t(width) * rows;
    if (!alpha_ && (inks_ == Inks::grey || inks_ == Inks::rgb)) {
      for (std::size_t i = 0; i < pixels; ++i) {
        const std::uint16_t* in = &raw_[i * used_];
        for (int b = 0; b < 3; ++b) rgb[3 * i + b] = byteOf_[in[inks_ == Inks::rgb ? b : 0]];
      }
      return true;
    }
    const auto byte = [](double v) { return static_cast<std::uint8_t>(std::clamp(v, 0.0, 255.0) + 0.5); };
    for (std::size_t i = 0; i < pixels; ++i) {
      const std::uint16_t* in = &raw_[i * bands];
      double colour[3], opaque = alpha_ ? in[used_] / most_ : 1;
      if (inks_ == Inks::palette) {
        GDALColorEntry entry{255, 255, 255, 255};
        GDALGetColorEntryAsRGB(table_, in[0], &entry);
        colour[0] = entry.c1, colour[1] = entry.c2, colour[2] = entry.c3;
        opaque *= entry.c4 / 255.0;
      } else if (inks_ == Inks::cmyk) {
        const auto left = [&](int b) { return inverted_ ? in[b] / most_ : 1 - in[b] / most_; };
        for (int b = 0; b < 3; ++b) colour[b] = 255 * left(b) * left(3);
      } else {
        for (int b = 0; b < 3; ++b) colour[b] = byteOf_[in[inks_ == Inks::rgb ? b : 0]];
      }
      for (int b = 0; b < 3; ++b) rgb[3 * i + b] = byte(255 + opaque * (colour[b] - 255));
    }
    return true;
  }

 private:
  GDALDatasetH dataset_;
  GDALDataType type_;
  GDALColorTableH table_;
  Inks inks_;
  int used_;  // bands that hold the colour, from the first
  bool alpha_, inverted_;
  double most_;
  std::array<std::uint8_t, 65536> byteOf_;  // of every value a sample may have
  std::vector<std::uint16_t> raw_;
};

class Picture final : public Document {
 public:
  Picture(std::shared_ptr<const std::string> bytes, PictureKind kind, std::string name, const std::string& world)
      : bytes_(std::move(bytes)), world_(world), kind_(kind), name_(std::move(name)) {
    static std::once_flag once;
    std::call_once(once, [] { GDALAllRegister(); });
    static std::atomic<int> count{0};
    const std::string stem = fmt::format("/vsimem/inselberg-sheet-{}/sheet", ++count);
    file_ = std::make_unique<MemoryFile>(stem + ".bin", *bytes_);
    if (!world_.empty()) worldFile_ = std::make_unique<MemoryFile>(stem + ".wld", world_);
    const Quiet quiet;
    const Dataset first = open(1);
    char** parts = GDALGetMetadata(first.get(), "SUBDATASETS");
    pages_ = kind_ == PictureKind::tiff ? std::max(1, CSLCount(parts) / 2) : 1;
  }

  int pages() const override { return pages_; }

  PageFacts facts(int page) override {
    const Stored& s = stored(page);
    PageFacts facts;
    facts.picture = true;
    facts.width = s.sideways() ? s.height : s.width;
    facts.height = s.sideways() ? s.width : s.height;
    facts.mmPerUnit = s.head.mmPerPixel;
    if (facts.mmPerUnit && s.sideways()) std::swap(facts.mmPerUnit->x, facts.mmPerUnit->y);
    return facts;
  }

  Content content(int page, const Progress&) override {
    stored(page);
    Content content;
    content.images = 1;
    return content;
  }

  std::optional<OwnPlace> ownPlace(int page) override {
    const Quiet quiet;
    const Stored s = stored(page);
    const Dataset dataset = open(page);
    std::vector<Control> controls;
    double g[6];
    if (GDALGetGeoTransform(dataset.get(), g) == CE_None) {
      for (const Vec2 raw : {Vec2{0, 0}, Vec2(s.width, 0), Vec2(0, s.height)})
        controls.push_back({s.onPage(raw), {g[0] + g[1] * raw.x + g[2] * raw.y, g[3] + g[4] * raw.x + g[5] * raw.y}});
    } else {
      const GDAL_GCP* points = GDALGetGCPs(dataset.get());
      for (int i = 0, n = GDALGetGCPCount(dataset.get()); i < n; ++i)
        controls.push_back(
            {s.onPage({points[i].dfGCPPixel, points[i].dfGCPLine}), {points[i].dfGCPX, points[i].dfGCPY}});
    }
    if (controls.size() < 3) return std::nullopt;
    OGRSpatialReferenceH system = GDALGetSpatialRef(dataset.get());
    if (!system) system = GDALGetGCPSpatialRef(dataset.get());
    OwnPlace place{std::move(controls), ""};
    if (system) {
      char* text = nullptr;
      OSRExportToWkt(system, &text);
      place.system = text ? text : "";
      CPLFree(text);
      if (OSRIsProjected(system) != 0) {
        for (Control& c : place.controls) c.ground = OSRGetLinearUnits(system, nullptr) * c.ground;
      }
    }
    return place;
  }

  Bitmap draw(int page, const Box& part, int width, int height, const Progress& progress) override {
    const Stored s = stored(page);
    const PageFacts size = facts(page);
    if (!pyramid_ || drawnPage_ != page) {
      pyramid_ = read(page, progress);
      drawnPage_ = page;
    }
    const double across = part.width() / width, up = part.height() / height;
    TilePyramid::Look look(*pyramid_, pyramid_->levelFor(std::max(across, up)));
    Bitmap bitmap{width, height, std::vector<std::uint8_t>(std::size_t(4) * width * height, 255)};
    for (int row = 0; row < height; ++row) {
      progress.check();
      std::uint8_t* to = &bitmap.pixels[std::size_t(4) * row * width];
      for (int column = 0; column < width; ++column, to += 4) {
        const Vec2 p{part.minX + (column + 0.5) * across, part.maxY - (row + 0.5) * up};
        if (p.x < 0 || p.y < 0 || p.x > size.width || p.y > size.height) continue;
        const Vec2 raw = s.fromPage(p);
        const auto colour = look.at(raw.x, raw.y);
        for (std::size_t b = 0; b < 3; ++b) to[b] = static_cast<std::uint8_t>(colour[2 - b] + 0.5f);
      }
    }
    return bitmap;
  }

 private:
  // A page as it is stored: rows from the top, before its turn.
  struct Stored {
    int width = 0, height = 0;
    PictureHead head;
    bool sideways() const { return head.turn >= 5; }

    // From columns and rows of what is stored to the page, and back.
    Vec2 onPage(Vec2 raw) const {
      const double c = raw.x, r = raw.y, w = width, h = height;
      switch (head.turn) {
        case 2:
          return {w - c, h - r};
        case 3:
          return {w - c, r};
        case 4:
          return {c, r};
        case 5:
          return {r, w - c};
        case 6:
          return {h - r, w - c};
        case 7:
          return {h - r, c};
        case 8:
          return {r, c};
        default:
          return {c, h - r};
      }
    }
    Vec2 fromPage(Vec2 p) const {
      const double w = width, h = height;
      switch (head.turn) {
        case 2:
          return {w - p.x, h - p.y};
        case 3:
          return {w - p.x, p.y};
        case 4:
          return {p.x, p.y};
        case 5:
          return {w - p.y, p.x};
        case 6:
          return {w - p.y, h - p.x};
        case 7:
          return {p.y, h - p.x};
        case 8:
          return {p.y, p.x};
        default:
          return {p.x, h - p.y};
      }
    }
  };

  Dataset open(int page) const {
    const char* driver = kind_ == PictureKind::png ? "PNG" : kind_ == PictureKind::jpeg ? "JPEG" : "GTiff";
    const char* drivers[] = {driver, nullptr};
    const std::string path = page > 1 ? fmt::format("GTIFF_DIR:{}:{}", page, file_->path()) : file_->path();
    Dataset dataset(GDALOpenEx(path.c_str(), GDAL_OF_RASTER | GDAL_OF_READONLY, drivers, nullptr, nullptr));
    if (!dataset || GDALGetRasterCount(dataset.get()) < 1)
      throw Error("the picture is damaged", {name_}, "scan or save it anew");
    return dataset;
  }

  const Stored& stored(int page) {
    if (page < 1 || page > pages_)
      throw Error(fmt::format("there is no page {}", page), {name_}, fmt::format("it has pages 1 to {}", pages_));
    if (storedPage_ != page) {
      const Quiet quiet;
      const Dataset dataset = open(page);
      stored_ = {GDALGetRasterXSize(dataset.get()), GDALGetRasterYSize(dataset.get()),
                 pictureHead(*bytes_, kind_, page - 1)};
      storedPage_ = page;
      const double pixels = double(stored_.width) * stored_.height;
      // One that is stored in passes has to be held whole.
      const bool inPasses = kind_ == PictureKind::png && bytes_->size() > 28 && (*bytes_)[28] == 1;
      if (pixels > (inPasses ? kMostPixels / 20 : kMostPixels))
        throw Error(fmt::format("the picture has {:.0f} million pixels", pixels / 1e6), {name_},
                    "save it with fewer, or in parts");
    }
    return stored_;
  }

  std::unique_ptr<TilePyramid> read(int page, const Progress& progress) {
    const Quiet quiet;
    const Stored s = stored(page);
    const Dataset dataset = open(page);
    RowReader reader(dataset.get(), s.head.inverted, name_);
    auto pyramid = std::make_unique<TilePyramid>(s.width, s.height);
    const int step = std::clamp(4'000'000 / s.width, 1, 64);
    std::vector<std::uint8_t> rgb;
    for (int row = 0; row < s.height; row += step) {
      progress.report("reading the picture", double(row) / s.height);
      const int rows = std::min(step, s.height - row);
      if (!reader.read(row, rows, s.width, rgb))
        throw Error(fmt::format("the picture breaks off after {} of its {} rows", row, s.height), {name_},
                    "scan or save it anew");
      pyramid->addRows(rgb);
    }
    return pyramid;
  }

  std::shared_ptr<const std::string> bytes_;
  std::string world_;
  PictureKind kind_;
  std::string name_;
  std::unique_ptr<MemoryFile> file_, worldFile_;
  int pages_ = 1;
  Stored stored_;
  int storedPage_ = 0, drawnPage_ = 0;
  std::unique_ptr<TilePyramid> pyramid_;
};

}  // namespace

std::unique_ptr<Document> openPicture(std::shared_ptr<const std::string> bytes, PictureKind kind,
                                      const std::string& name, const std::string& worldFile) {
  return std::make_unique<Picture>(std::move(bytes), kind, name, worldFile);
}

}  // namespace inselberg::sheet
