// Entities are read one at a time into a list of tags and interpreted from there. A block is kept as the place in the
// file where its entities start: an insert reads them again through its own frame.
#include "exchange/dxf.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>
#include <optional>
#include <string_view>
#include <unordered_map>

#include "base/error.h"
#include "exchange/dxf_tags.h"
#include "exchange/length_units.h"
#include "exchange/spot_levels.h"
#include "exchange/text_file.h"
#include "plane/curves.h"

namespace inselberg::exchange {
namespace {

using plane::Vec2;
using plane::Vec3;

constexpr double kDegree = std::numbers::pi / 180;

Vec3 operator+(Vec3 a, Vec3 b) {
  return {a.x + b.x, a.y + b.y, a.z + b.z};
}
Vec3 operator*(double k, Vec3 a) {
  return {k * a.x, k * a.y, k * a.z};
}
Vec3 crossOf(Vec3 a, Vec3 b) {
  return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
double lengthOf(Vec3 a) {
  return std::hypot(a.x, a.y, a.z);
}

// An affine map of space.
struct Frame {
  Vec3 x{1, 0, 0}, y{0, 1, 0}, z{0, 0, 1}, o{};
  Vec3 turned(Vec3 v) const { return v.x * x + v.y * y + v.z * z; }
  Vec3 operator()(Vec3 p) const { return o + turned(p); }
  Frame operator*(const Frame& inner) const {
    return {turned(inner.x), turned(inner.y), turned(inner.z), (*this)(inner.o)};
  }
  double scale() const { return std::max({lengthOf(x), lengthOf(y), lengthOf(z)}); }
};

// The coordinates of an entity that is drawn in a plane of its own, by the direction of its normal (the format's
// "arbitrary axis" rule).
Frame frameOfNormal(Vec3 n) {
  const double length = lengthOf(n);
  if (!(length > 0) || (n.x == 0 && n.y == 0 && n.z > 0)) return {};
  n = (1 / length) * n;
  constexpr double kNear = 1.0 / 64;
  Vec3 x = std::abs(n.x) < kNear && std::abs(n.y) < kNear ? crossOf({0, 1, 0}, n) : crossOf({0, 0, 1}, n);
  x = (1 / lengthOf(x)) * x;
  return {x, crossOf(n, x), n, {}};
}

struct Entity {
  std::string_view kind;
  long line = 0;
  std::vector<DxfTag> tags;
};

// Walks entities from a place on; each insert has a cursor of its own.
class Cursor {
 public:
  explicit Cursor(const DxfTags& tags) : tags_(tags) { step(); }

  bool atEnd() const { return !has_; }
  const DxfTag& tag() const { return tag_; }
  DxfTags::Place place() const { return place_; }  // of tag()
  void step() {
    place_ = tags_.place();
    has_ = tags_.next(tag_);
  }
  // REQUIRES: tag() is a 0. Reads the entity and stops at the next 0.
  void read(Entity& entity) {
    entity.kind = tag_.text;
    entity.line = tag_.line;
    entity.tags.clear();
    for (step(); has_ && tag_.code != 0; step()) entity.tags.push_back(tag_);
  }

 private:
  DxfTags tags_;
  DxfTag tag_;
  DxfTags::Place place_;
  bool has_ = false;
};

struct Block {
  Vec3 base;
  DxfTags::Place begin;
  bool paper = false, external = false;
};

// Where entities stand: the frame of the inserts around them.
struct Context {
  Frame frame;
  std::optional<LayerIndex> insertLayer;
  int depth = 0;
};

std::string upper(std::string_view text) {
  std::string out(text);
  for (char& c : out) {
    if (c >= 'a' && c <= 'z') c = static_cast<char>(c - 'a' + 'A');
  }
  return out;
}

// MTEXT without its formatting.
std::string plainText(std::string_view text) {
  std::string out;
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (text[i] == '{' || text[i] == '}') continue;
    if (text[i] == '%' && i + 2 < text.size() && text[i + 1] == '%') {
      i += 2;
      continue;
    }
    if (text[i] != '\\' || i + 1 >= text.size()) {
      out += text[i];
      continue;
    }
    const char c = text[++i];
    if (c == 'P' || c == '~') {
      out += ' ';
    } else if (c == '\\' || c == '{' || c == '}') {
      out += c;
    } else if (std::string_view("ACFHQTWfp").find(c) != std::string_view::npos) {
      i = std::min(text.find(';', i), text.size());
    }
  }
  return out;
}

class Reader {
 public:
  Reader(const std::string& path, const DxfRules& rules, const Progress& progress)
      : out_(startOf(path)), bytes_(readBytes(path)), rules_(rules), progress_(progress), tags_(bytes_, out_.file) {
    out_.format = "DXF";
    out_.unitsDeclared = false;
    budget_ = 4'000'000 + bytes_.size() / 100 * 8;
    rereads_ = 20'000'000 + bytes_.size();
    if (rules.metresPerUnit) {
      unit_ = textUnit_ = *rules.metresPerUnit;
      out_.units = unitNameOf(unit_);
      out_.unitsDeclared = true;
    }
  }

  Imported read() {
    Cursor cursor(tags_);
    while (!cursor.atEnd() && cursor.tag().code == 999) cursor.step();
    if (cursor.atEnd() || cursor.tag().code != 0 || cursor.tag().text != "SECTION")
      tags_.fail("this is not a DXF drawing", 1, "export the drawing again as DXF");
    bool ended = false;
    std::optional<DxfTags::Place> entitiesAt;
    while (!cursor.atEnd() && !ended) {
      if (cursor.tag().code != 0) {
        cursor.step();
        continue;
      }
      if (cursor.tag().text == "EOF") {
        ended = true;
        break;
      }
      if (cursor.tag().text != "SECTION") {
        cursor.step();
        continue;
      }
      cursor.step();
      const std::string_view name = cursor.atEnd() ? std::string_view{} : cursor.tag().text;
      if (!cursor.atEnd()) cursor.step();
      if (name == "HEADER") {
        header(cursor);
      } else if (name == "BLOCKS") {
        blocks(cursor);
      } else if (name == "ENTITIES") {
        walk(cursor, {}, "ENDSEC");
      }
    }
    if (!ended) {
      tags_.fail("the drawing breaks off before its end", tags_.binary() ? 0 : lineAt(bytes_, bytes_.size()),
                 "copy or export it again");
    }
    // Blocks are defined before the entities as a rule; inserts that came before theirs had to wait.
    for (const DxfTags::Place& at : std::exchange(waiting_, {})) {
      DxfTags from = tags_;
      from.goTo(at);
      Cursor again(from);
      late_ = true;
      entity(again, {});
      finishParts({});
    }
    settleSpotLevels(spots_, out_);
    if (out_.empty()) requireClean(out_);
    if (!out_.unitsDeclared) out_.remarks.push_back("The drawing declares no unit; metres are assumed.");
    if (levelsDiffer_ > 0) {
      out_.remarks.push_back(
          fmt::format("{} points have another level in their attribute than in their place; the attribute's is used.",
                      levelsDiffer_));
    }
    for (const auto& [kind, n] : passedOver_) out_.remarks.push_back(fmt::format("{} {} not taken", n, kind));
    return std::move(out_);
  }

 private:
  // The name is there before the tags are opened: they tell it in messages.
  static Imported startOf(const std::string& path) {
    Imported out;
    out.file = path;
    return out;
  }

  void header(Cursor& cursor) {
    std::string_view variable;
    for (; !cursor.atEnd() && cursor.tag().code != 0; cursor.step()) {
      const DxfTag& tag = cursor.tag();
      if (tag.code == 9) {
        variable = tag.text;
      } else if (variable == "$INSUNITS" && tag.code == 70) {
        setUnits(tags_.integer(tag));
      } else if (variable == "$DWGCODEPAGE") {
        codePage_ = tag.text;
      }
    }
  }

  void setUnits(int code) {
    using Coded = std::pair<int, std::string_view>;
    static constexpr std::array kKnown{Coded{1, "in"},  Coded{2, "ft"},    Coded{3, "mile"}, Coded{4, "mm"},
                                       Coded{5, "cm"},  Coded{6, "m"},     Coded{7, "km"},   Coded{10, "yd"},
                                       Coded{14, "dm"}, Coded{21, "us-ft"}};
    const auto* found = std::find_if(kKnown.begin(), kKnown.end(), [&](const Coded& u) { return u.first == code; });
    if (found == kKnown.end() || rules_.metresPerUnit) return;
    unit_ = metresOf(found->second);
    out_.units = found->second;
    out_.unitsDeclared = true;
    // Levels written as text keep to metres where lengths are drawn in millimetres or the like.
    textUnit_ = unit_ < 0.25 && code != 1 ? 1 : unit_;
  }

  void blocks(Cursor& cursor) {
    Entity e;
    while (!cursor.atEnd() && cursor.tag().code == 0 && cursor.tag().text != "ENDSEC") {
      check();
      if (cursor.tag().text != "BLOCK") {
        cursor.step();
        while (!cursor.atEnd() && cursor.tag().code != 0) cursor.step();
        continue;
      }
      cursor.read(e);
      Block block;
      std::string name;
      for (const DxfTag& t : e.tags) {
        if (t.code == 2) name = t.text;
        if (t.code == 10) block.base.x = tags_.number(t);
        if (t.code == 20) block.base.y = tags_.number(t);
        if (t.code == 30) block.base.z = tags_.number(t);
        if (t.code == 70) block.external = (tags_.integer(t) & 4) != 0;
      }
      block.begin = cursor.place();
      name = upper(name);
      block.paper = name.starts_with("*PAPER_SPACE") || name.starts_with("$PAPER_SPACE");
      blocks_.emplace(std::move(name), block);
    }
  }

  void check() {
    if ((++steps_ & 0xfff) == 0) {
      const double done = bytes_.empty() ? 1 : static_cast<double>(lastAt_) / static_cast<double>(bytes_.size());
      progress_.report("reading the drawing", done);
    }
  }

  void walk(Cursor& cursor, const Context& context, std::string_view end) {
    while (!cursor.atEnd()) {
      if (cursor.tag().code != 0) {
        cursor.step();
        continue;
      }
      if (cursor.tag().text == end || cursor.tag().text == "ENDSEC" || cursor.tag().text == "EOF") break;
      if (context.depth == 0) lastAt_ = cursor.place().at;
      check();
      entity(cursor, context);
    }
    finishParts(context);
  }

  // One entity with all that belongs to it.
  void entity(Cursor& cursor, const Context& context) {
    const DxfTags::Place start = cursor.place();
    if (entities_.size() <= static_cast<std::size_t>(context.depth)) entities_.emplace_back();
    // A deeper insert may grow the list: work on a moved entity.
    Entity e = std::move(entities_[static_cast<std::size_t>(context.depth)]);
    cursor.read(e);
    if (context.depth > 0) {
      const std::size_t n = e.tags.size() + 1;
      if (n > rereads_) tooMuch(e.line);
      rereads_ -= n;
    }
    leavingOut(e, context, [&] { interpret(e, context, start); });
    entities_[static_cast<std::size_t>(context.depth)] = std::move(e);
  }

  // Does something about an entity; where a value of it is wrong, that entity is left out.
  template <class F>
  void leavingOut(const Entity& e, const Context& context, F&& f) {
    try {
      f();
    } catch (const Error& error) {
      if (tooMuch_) throw;
      out_.leaveOut(error, layerOf(e, context));
      // A line without one of its vertices would be another line.
      if (e.kind == "VERTEX") polyline_.reset();
      if (e.kind == "ATTRIB") insert_.reset();
    }
  }

  [[noreturn]] void tooMuch(long line) {
    tooMuch_ = true;
    tags_.fail("the drawing's blocks and curves unfold to far more than it holds", line,
               "remove nested or repeated blocks that are not needed, and export it again");
  }

  void spend(std::size_t points, long line) {
    if (points > budget_) tooMuch(line);
    budget_ -= points;
  }

  LayerIndex layerOf(const Entity& e, const Context& context) {
    std::string_view raw = "0";
    for (const DxfTag& t : e.tags) {
      if (t.code == 8) {
        raw = t.text;
        break;
      }
    }
    if (context.insertLayer && raw == "0") return *context.insertLayer;
    if (raw == lastLayer_ && lastLayerKnown_) return lastLayerIndex_;
    const auto [it, fresh] = layers_.try_emplace(std::string(raw), 0);
    if (fresh) it->second = out_.layerNamed(dxfText(raw, codePage_));
    lastLayer_ = raw, lastLayerIndex_ = it->second, lastLayerKnown_ = true;
    return it->second;
  }

  // The value of a group code, the first there is.
  double real(const Entity& e, int code, double otherwise) const {
    for (const DxfTag& t : e.tags) {
      if (t.code == code) return tags_.number(t);
    }
    return otherwise;
  }
  int flag(const Entity& e, int code, int otherwise = 0) const {
    for (const DxfTag& t : e.tags) {
      if (t.code == code) return tags_.integer(t);
    }
    return otherwise;
  }
  bool has(const Entity& e, int code) const {
    return std::any_of(e.tags.begin(), e.tags.end(), [&](const DxfTag& t) { return t.code == code; });
  }
  Vec3 vector(const Entity& e, int code) const {
    return {real(e, code, 0), real(e, code + 10, 0), real(e, code + 20, 0)};
  }
  Frame planeOf(const Entity& e) const {
    if (!has(e, 210) && !has(e, 230)) return {};
    return frameOfNormal({real(e, 210, 0), real(e, 220, 0), real(e, 230, 1)});
  }
  // All points given by repeated groups.
  std::vector<Vec3> vectors(const Entity& e, int code) const {
    std::vector<Vec3> list;
    for (const DxfTag& t : e.tags) {
      if (t.code == code) list.push_back({tags_.number(t), 0, 0});
      if (t.code == code + 10 && !list.empty()) list.back().y = tags_.number(t);
      if (t.code == code + 20 && !list.empty()) list.back().z = tags_.number(t);
    }
    return list;
  }

  Vec3 metres(const Context& context, const Frame& plane, Vec3 p) const { return unit_ * context.frame(plane(p)); }
  double chordErrorIn(const Context& context) const {
    return rules_.chordError / std::max(unit_ * context.frame.scale(), 1e-12);
  }

  void addPoint(Vec3 p, LayerIndex layer, long line, std::string number = {}, std::string code = {}) {
    out_.points.push_back(p);
    out_.pointLayers.push_back(layer);
    out_.pointLines.push_back(line);
    out_.numbers.push_back(std::move(number));
    out_.codes.push_back(std::move(code));
  }

  // Points in the entity's plane, as a line in metres.
  void addLine(const std::vector<Vec3>& local, const Frame& plane, bool closed, const Entity& e,
               const Context& context) {
    ImportedLine line{{}, closed, layerOf(e, context), e.line};
    line.vertices.reserve(local.size());
    for (const Vec3& p : local) line.vertices.push_back(metres(context, plane, p));
    if (closed && line.vertices.size() > 2 && line.vertices.front() == line.vertices.back()) line.vertices.pop_back();
    if (line.vertices.size() >= 2) out_.lines.push_back(std::move(line));
  }

  ImportedModel& modelOf(LayerIndex layer) {
    for (ImportedModel& m : out_.models) {
      if (m.layer == layer) return m;
    }
    return out_.models.emplace_back(ImportedModel{{}, {}, layer});
  }

  // A face of three or more corners, as a fan.
  void addFace(const std::vector<Vec3>& corners, ImportedModel& model) {
    if (corners.size() < 3) return;
    const auto first = static_cast<ground::Index>(model.points.size());
    model.points.insert(model.points.end(), corners.begin(), corners.end());
    for (ground::Index i = 1; i + 1 < corners.size(); ++i) model.triangles.push_back({first, first + i, first + i + 1});
  }

  void interpret(const Entity& e, const Context& context, const DxfTags::Place& start) {
    if (e.kind == "VERTEX") {
      if (polyline_) polyline_->vertices.push_back(vertexOf(e));
      return;
    }
    if (e.kind == "ATTRIB") {
      if (insert_) attribute(e);
      return;
    }
    if (e.kind == "SEQEND") {
      finishParts(context);
      return;
    }
    finishParts(context);
    if (flag(e, 67) == 1) {
      ++passedOver_["entities of the paper space"];
    } else if (flag(e, 60) == 1) {
      ++passedOver_["invisible entities"];
    } else if (e.kind == "POINT") {
      addPoint(metres(context, {}, vector(e, 10)), layerOf(e, context), e.line);
    } else if (e.kind == "LINE") {
      addLine({vector(e, 10), vector(e, 11)}, {}, false, e, context);
    } else if (e.kind == "LWPOLYLINE") {
      lightPolyline(e, context);
    } else if (e.kind == "POLYLINE") {
      polyline_ = Polyline{e, {}};
    } else if (e.kind == "ARC" || e.kind == "CIRCLE") {
      arc(e, context);
    } else if (e.kind == "ELLIPSE") {
      ellipse(e, context);
    } else if (e.kind == "SPLINE") {
      spline(e, context);
    } else if (e.kind == "3DFACE") {
      face(e, context);
    } else if (e.kind == "MESH") {
      mesh(e, context);
    } else if (e.kind == "TEXT" || e.kind == "MTEXT") {
      text(e, context);
    } else if (e.kind == "INSERT") {
      insert_ = Insert{e, start, {}};
      if (flag(e, 66) != 1) finishParts(context);
    } else {
      ++passedOver_[std::string(e.kind.substr(0, 40)) + " entities"];
    }
  }

  void lightPolyline(const Entity& e, const Context& context) {
    const double level = real(e, 38, 0);
    std::vector<Vec3> corners;
    std::vector<double> bulges;
    bool bent = false;
    for (const DxfTag& t : e.tags) {
      if (t.code == 10) corners.push_back({tags_.number(t), 0, level}), bulges.push_back(0);
      if (t.code == 20 && !corners.empty()) corners.back().y = tags_.number(t);
      if (t.code == 42 && !corners.empty()) bulges.back() = tags_.number(t), bent |= bulges.back() != 0;
    }
    const bool closed = (flag(e, 70) & 1) != 0;
    addLine(bent ? unbent(corners, bulges, closed, e, context) : corners, planeOf(e), closed, e, context);
  }

  // Corners with bulges as chords, levels straight along each arc.
  std::vector<Vec3> unbent(const std::vector<Vec3>& corners, const std::vector<double>& bulges, bool closed,
                           const Entity& e, const Context& context) {
    std::vector<Vec3> out;
    if (corners.empty()) return out;
    out.push_back(corners.front());
    const std::size_t n = corners.size();
    for (std::size_t i = 0; i + (closed ? 0 : 1) < n; ++i) {
      const Vec3 a = corners[i], b = corners[(i + 1) % n];
      const auto chords = plane::bulgeChords(a.plan(), b.plan(), bulges[i], chordErrorIn(context));
      if (chords.size() > 1) spend(chords.size(), e.line);
      for (std::size_t k = 0; k < chords.size(); ++k) {
        const double along = static_cast<double>(k + 1) / static_cast<double>(chords.size());
        out.push_back({chords[k].x, chords[k].y, a.z + along * (b.z - a.z)});
      }
    }
    if (closed) out.pop_back();
    return out;
  }

  void arc(const Entity& e, const Context& context) {
    const Vec3 centre = vector(e, 10);
    const double radius = real(e, 40, 0);
    const bool circle = e.kind == "CIRCLE";
    double from = circle ? 0 : real(e, 50, 0) * kDegree, to = circle ? 2 * std::numbers::pi : real(e, 51, 0) * kDegree;
    from = std::remainder(from, 2 * std::numbers::pi);
    if (!circle) to = std::remainder(to, 2 * std::numbers::pi);
    if (to <= from) to += 2 * std::numbers::pi;
    if (!(radius > 0)) return;
    const auto chords = plane::ellipseChords(centre.plan(), {radius, 0}, {0, radius}, from, to, chordErrorIn(context));
    spend(chords.size(), e.line);
    std::vector<Vec3> points;
    for (const Vec2 p : chords) points.push_back({p.x, p.y, centre.z});
    if (circle) points.pop_back();
    addLine(points, planeOf(e), circle, e, context);
  }

  void ellipse(const Entity& e, const Context& context) {
    const Vec3 centre = vector(e, 10), major = vector(e, 11);
    const double half = lengthOf(major), ratio = real(e, 40, 1);
    double from = real(e, 41, 0), to = real(e, 42, 2 * std::numbers::pi);
    Vec3 normal{real(e, 210, 0), real(e, 220, 0), real(e, 230, 1)};
    if (!(half > 0) || !(std::abs(ratio) > 0) || !(lengthOf(normal) > 0)) return;
    normal = (1 / lengthOf(normal)) * normal;
    if (to <= from) to += 2 * std::numbers::pi;
    const bool whole = to - from > 2 * std::numbers::pi - 1e-9;
    const Vec3 u = (1 / half) * major, v = crossOf(normal, u);
    const auto chords = plane::ellipseChords({}, {half, 0}, {0, ratio * half}, from, to, chordErrorIn(context));
    spend(chords.size(), e.line);
    std::vector<Vec3> points;
    for (const Vec2 p : chords) points.push_back(centre + p.x * u + p.y * v);
    if (whole) points.pop_back();
    addLine(points, {}, whole, e, context);
  }

  void spline(const Entity& e, const Context& context) {
    plane::Spline s;
    s.degree = flag(e, 71, 3);
    s.control = vectors(e, 10);
    for (const DxfTag& t : e.tags) {
      if (t.code == 40) s.knots.push_back(tags_.number(t));
      if (t.code == 41) s.weights.push_back(tags_.number(t));
    }
    const double error = chordErrorIn(context);
    std::vector<Vec3> points;
    if (plane::isSound(s)) {
      points = plane::splineChords(s, error);
    } else {
      const std::vector<Vec3> through = vectors(e, 11);
      if (through.size() < 2) {
        ++passedOver_["SPLINE entities that are not whole"];
        return;
      }
      points = plane::fittedChords(through, error);
    }
    spend(points.size(), e.line);
    const bool closed = (flag(e, 70) & 1) != 0 && points.size() > 3;
    if (closed && lengthOf(points.front() + -1.0 * points.back()) < 1e-9 * (1 + lengthOf(points.front())))
      points.pop_back();
    addLine(points, {}, closed, e, context);
  }

  void face(const Entity& e, const Context& context) {
    std::vector<Vec3> corners;
    for (int k = 0; k < 4; ++k) {
      if (k == 3 && !has(e, 13)) break;
      const Vec3 p = metres(context, {}, vector(e, 10 + k));
      if (corners.empty() || !(p == corners.back())) corners.push_back(p);
    }
    if (corners.size() > 3 && corners.front() == corners.back()) corners.pop_back();
    addFace(corners, modelOf(layerOf(e, context)));
  }

  void mesh(const Entity& e, const Context& context) {
    std::vector<Vec3> points;
    std::size_t at = 0;
    const auto& tags = e.tags;
    while (at < tags.size() && tags[at].code != 92) ++at;
    for (; at < tags.size() && tags[at].code != 93; ++at) {
      if (tags[at].code == 10) points.push_back({tags_.number(tags[at]), 0, 0});
      if (tags[at].code == 20 && !points.empty()) points.back().y = tags_.number(tags[at]);
      if (tags[at].code == 30 && !points.empty()) points.back().z = tags_.number(tags[at]);
    }
    for (Vec3& p : points) p = metres(context, {}, p);
    ++at;
    std::vector<Vec3> corners;
    int left = 0;
    ImportedModel& model = modelOf(layerOf(e, context));
    for (; at < tags.size() && tags[at].code == 90; ++at) {
      const int value = tags_.integer(tags[at]);
      if (left == 0) {
        left = value;
        corners.clear();
        if (left <= 0) break;
        continue;
      }
      if (value < 0 || static_cast<std::size_t>(value) >= points.size())
        tags_.fail("a mesh names a corner that is not there", tags[at].line, "export the drawing again");
      corners.push_back(points[static_cast<std::size_t>(value)]);
      if (--left == 0) addFace(corners, model);
    }
  }

  void text(const Entity& e, const Context& context) {
    std::string content;
    for (const DxfTag& t : e.tags) {
      if (t.code == 3) content += t.text;
    }
    for (const DxfTag& t : e.tags) {
      if (t.code == 1) {
        content += t.text;
        break;
      }
    }
    const bool paragraph = e.kind == "MTEXT";
    const auto number = spotLevelOf(plainText(content));
    if (!number) {
      ++passedOver_["texts that are no levels"];
      return;
    }
    const Frame plane = paragraph ? Frame{} : planeOf(e);
    const bool aligned = !paragraph && (flag(e, 72) != 0 || flag(e, 73) != 0) && has(e, 11);
    SpotLevel spot;
    spot.at = metres(context, plane, vector(e, aligned ? 11 : 10));
    spot.height = unit_ * context.frame.scale() * std::max(real(e, 40, 0), 0.0);
    spot.width = 0.8 * spot.height * static_cast<double>(number->digits);
    spot.level = number->level * textUnit_;
    spot.rounding = number->rounding * textUnit_;
    spot.hasDecimals = number->decimals;
    spot.layer = layerOf(e, context);
    spot.line = e.line;
    spots_.push_back(spot);
  }

  struct Vertex {
    Vec3 at;
    double bulge = 0;
    int flags = 0;
    std::array<int, 4> corners{};
  };
  Vertex vertexOf(const Entity& e) const {
    Vertex v;
    for (const DxfTag& t : e.tags) {
      switch (t.code) {
        case 10:
          v.at.x = tags_.number(t);
          break;
        case 20:
          v.at.y = tags_.number(t);
          break;
        case 30:
          v.at.z = tags_.number(t);
          break;
        case 42:
          v.bulge = tags_.number(t);
          break;
        case 70:
          v.flags = tags_.integer(t);
          break;
        case 71:
        case 72:
        case 73:
        case 74:
          v.corners[static_cast<std::size_t>(t.code - 71)] = tags_.integer(t);
          break;
        default:
          break;
      }
    }
    return v;
  }

  struct Polyline {
    Entity head;
    std::vector<Vertex> vertices;
  };
  struct Insert {
    Entity head;
    DxfTags::Place start;
    std::vector<std::pair<std::string, std::string>> attributes;
  };

  // What was open ends: a polyline with its vertices, an insert with its attributes.
  void finishParts(const Context& context) {
    if (auto polyline = std::exchange(polyline_, std::nullopt))
      leavingOut(polyline->head, context, [&] { finishPolyline(*polyline, context); });
    if (auto insert = std::exchange(insert_, std::nullopt))
      leavingOut(insert->head, context, [&] { finishInsert(*insert, context); });
  }

  void finishPolyline(const Polyline& p, const Context& context) {
    const Entity& e = p.head;
    const int flags = flag(e, 70);
    if (flags & 16) {
      meshOf(p, context, flags);
      return;
    }
    if (flags & 64) {
      polyface(p, context);
      return;
    }
    const bool closed = (flags & 1) != 0, inSpace = (flags & 8) != 0;
    double elevation = real(e, 30, 0);
    std::vector<Vec3> corners;
    std::vector<double> bulges;
    bool bent = false, levelled = false;
    for (const Vertex& v : p.vertices) levelled |= v.at.z != 0;
    // A flat polyline has its level in its head; some writers give it with the corners instead.
    const bool own = inSpace || (elevation == 0 && levelled);
    for (const Vertex& v : p.vertices) {
      if (v.flags & 16) continue;  // control point of a spline frame
      corners.push_back({v.at.x, v.at.y, own ? v.at.z : elevation});
      bulges.push_back(v.bulge);
      bent |= v.bulge != 0;
    }
    if (inSpace) {
      addLine(corners, {}, closed, e, context);
    } else {
      addLine(bent ? unbent(corners, bulges, closed, e, context) : corners, planeOf(e), closed, e, context);
    }
  }

  void meshOf(const Polyline& p, const Context& context, int flags) {
    std::vector<Vec3> points;
    const bool smoothed =
        std::any_of(p.vertices.begin(), p.vertices.end(), [](const Vertex& v) { return v.flags & 8; });
    for (const Vertex& v : p.vertices) {
      if (smoothed && (v.flags & 16)) continue;
      points.push_back(metres(context, {}, v.at));
    }
    const long long m = smoothed ? flag(p.head, 73) : flag(p.head, 71),
                    n = smoothed ? flag(p.head, 74) : flag(p.head, 72);
    if (m < 2 || n < 2 || m * n != static_cast<long long>(points.size())) {
      ++passedOver_["polygon meshes that are not whole"];
      return;
    }
    ImportedModel& model = modelOf(layerOf(p.head, context));
    const auto at = [&](long long i, long long j) { return points[static_cast<std::size_t>((i % m) * n + j % n)]; };
    for (long long i = 0; i + ((flags & 1) ? 0 : 1) < m; ++i) {
      for (long long j = 0; j + ((flags & 32) ? 0 : 1) < n; ++j)
        addFace({at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)}, model);
    }
  }

  void polyface(const Polyline& p, const Context& context) {
    std::vector<Vec3> points, corners;
    ImportedModel& model = modelOf(layerOf(p.head, context));
    for (const Vertex& v : p.vertices) {
      if (v.flags & 64) {
        points.push_back(metres(context, {}, v.at));
        continue;
      }
      if (!(v.flags & 128)) continue;
      corners.clear();
      for (const int c : v.corners) {
        if (c == 0) continue;
        const auto i = static_cast<std::size_t>(std::abs(static_cast<long long>(c))) - 1;
        if (i >= points.size())
          tags_.fail("a mesh names a corner that is not there", p.head.line, "export the drawing again");
        corners.push_back(points[i]);
      }
      addFace(corners, model);
    }
  }

  void attribute(const Entity& e) {
    std::string name, value;
    for (const DxfTag& t : e.tags) {
      if (t.code == 2) name = upper(t.text);
      if (t.code == 1) value = dxfText(t.text, codePage_);
    }
    insert_->attributes.emplace_back(std::move(name), plainText(value));
  }

  void finishInsert(const Insert& insert, const Context& context) {
    const Entity& e = insert.head;
    const LayerIndex layer = layerOf(e, context);
    const Frame plane = planeOf(e);
    const Vec3 at = vector(e, 10);
    if (const auto level = levelAttribute(insert.attributes)) {
      Vec3 p = metres(context, plane, at);
      const double said = level->level * textUnit_;
      // The attribute is rounded; the place itself is exact, where it has a level and means the same.
      if (p.z == 0 || std::abs(p.z - said) > level->rounding * textUnit_ + 1e-9) {
        if (p.z != 0) ++levelsDiffer_;
        p.z = said;
      }
      addPoint(p, layer, e.line,
               attributeValue(insert.attributes, {"NUMBER", "NO", "NR", "PT", "POINT", "ID", "NAME", "PNO"}),
               attributeValue(insert.attributes, {"CODE", "DESC", "DESCRIPTION", "FEATURE"}));
      return;
    }
    std::string name;
    for (const DxfTag& t : e.tags) {
      if (t.code == 2) name = upper(t.text);
    }
    const auto found = blocks_.find(name);
    if (found == blocks_.end()) {
      if (!late_ && context.depth == 0) {
        waiting_.push_back(insert.start);
      } else {
        ++passedOver_["inserts of blocks that are not there"];
      }
      return;
    }
    const Block& block = found->second;
    if (block.external || block.paper) {
      ++passedOver_[block.external ? "inserts of other drawings" : "inserts of paper space"];
      return;
    }
    if (context.depth >= 16) {
      ++passedOver_["blocks nested more than 16 deep"];
      return;
    }
    const double angle = real(e, 50, 0) * kDegree, c = std::cos(angle), s = std::sin(angle);
    const double sx = real(e, 41, 1), sy = real(e, 42, 1), sz = real(e, 43, 1);
    const int columns = std::max(1, flag(e, 70, 1)), rows = std::max(1, flag(e, 71, 1));
    const double dx = real(e, 44, 0), dy = real(e, 45, 0);
    for (int row = 0; row < rows; ++row) {
      for (int column = 0; column < columns; ++column) {
        spend(1, e.line);
        const double ox = column * dx, oy = row * dy;
        Frame place{
            sx * Vec3{c, s, 0}, sy * Vec3{-s, c, 0}, {0, 0, sz}, at + Vec3{c * ox - s * oy, s * ox + c * oy, 0}};
        place.o = place(-1.0 * block.base);
        const std::size_t before = verticesSoFar();
        DxfTags from = tags_;
        from.goTo(block.begin);
        Cursor cursor(from);
        walk(cursor, {context.frame * plane * place, layer, context.depth + 1}, "ENDBLK");
        spend(verticesSoFar() - before, e.line);
      }
    }
  }

  // Roughly what has been unfolded; lines count by their last vertices only where an insert just added them.
  std::size_t verticesSoFar() {
    for (; countedLines_ < out_.lines.size(); ++countedLines_)
      lineVertices_ += out_.lines[countedLines_].vertices.size();
    std::size_t n = out_.points.size() + spots_.size() + lineVertices_;
    for (const ImportedModel& m : out_.models) n += m.points.size();
    return n;
  }

  Imported out_;
  std::string bytes_;
  DxfRules rules_;
  const Progress& progress_;
  DxfTags tags_;
  double unit_ = 1, textUnit_ = 1;
  std::string codePage_;
  std::unordered_map<std::string, Block> blocks_;
  std::unordered_map<std::string, LayerIndex> layers_;
  std::string_view lastLayer_;
  LayerIndex lastLayerIndex_ = 0;
  bool lastLayerKnown_ = false;
  std::vector<Entity> entities_;  // by depth, to use their memory again
  std::optional<Polyline> polyline_;
  std::optional<Insert> insert_;
  std::vector<DxfTags::Place> waiting_;
  bool late_ = false, tooMuch_ = false;
  std::vector<SpotLevel> spots_;
  std::size_t levelsDiffer_ = 0, steps_ = 0, lastAt_ = 0;
  std::size_t budget_ = 0, rereads_ = 0, countedLines_ = 0, lineVertices_ = 0;
  std::map<std::string, std::size_t> passedOver_;
};

}  // namespace

Imported readDxf(const std::string& path, const DxfRules& rules, const Progress& progress) {
  return Reader(path, rules, progress).read();
}

}  // namespace inselberg::exchange
