#include "project/source.h"

#include <algorithm>

#include "base/text.h"
#include "project/each_side.h"

namespace inselberg::project {

Hash SourceData::hash() const {
  Hasher h;
  const auto feed3 = [&](const std::vector<plane::Vec3>& list) {
    h.value(list.size()).bytes(list.data(), list.size() * sizeof(plane::Vec3));
  };
  const auto feedRing = [&](const plane::Ring& ring) {
    h.value(ring.size()).bytes(ring.data(), ring.size() * sizeof(plane::Vec2));
  };
  feed3(points);
  h.value(codes.size());
  for (const std::string& c : codes) h.text(c);
  h.value(breaklines.size());
  for (const auto& line : breaklines) {
    feed3(line.vertices);
    // The hash of data that a file of version 1 can hold stays what it was.
    h.value(static_cast<std::uint8_t>((line.closed ? 1 : 0) | (line.contour ? 2 : 0)));
  }
  const auto feedPolygons = [&](const std::vector<plane::Polygon>& polygons) {
    h.value(polygons.size());
    for (const auto& polygon : polygons) {
      feedRing(polygon.outer);
      h.value(polygon.holes.size());
      for (const auto& hole : polygon.holes) feedRing(hole);
    }
  };
  feedPolygons(boundaries);
  feed3(modelPoints);
  h.value(modelTriangles.size()).bytes(modelTriangles.data(), modelTriangles.size() * sizeof(ground::Triangle));
  if (!voids.empty()) feedPolygons(voids);
  return h.finish();
}

SourcePtr makeSource(SourceId id, SourceInfo info, std::shared_ptr<const SourceData> data, const Hash& hash) {
  for (std::string* text : {&info.name, &info.file, &info.colour}) *text = validUtf8(std::move(*text));
  for (auto* list : {&info.takes, &info.reading}) {
    for (auto& [name, value] : *list) name = validUtf8(std::move(name)), value = validUtf8(std::move(value));
  }
  for (std::string& line : info.report) line = validUtf8(std::move(line));
  return std::make_shared<Source>(
      Source{std::move(info), id, std::move(data), hash, std::make_shared<Source::LazyIndex>()});
}

SourcePtr makeSource(SourceId id, SourceInfo info, SourceData data) {
  const Hash hash = data.hash();
  return makeSource(id, std::move(info), std::make_shared<SourceData>(std::move(data)), hash);
}

void Source::makeIndex() const {
  if (lazyIndex->begun.exchange(true)) return;
  lazyIndex->index = std::make_unique<const SourceIndex>(*data);
  lazyIndex->ready = true;
}

void Source::eachNear(const plane::Box& box, const std::function<void(const SourceIndex::Entry&)>& f) const {
  constexpr int kOften = 6;
  if (lazyIndex->asked.fetch_add(1, std::memory_order_relaxed) >= kOften) makeIndex();
  if (lazyIndex->ready) return lazyIndex->index->touching(box, f);
  eachSide(*data, [&](const SourceIndex::Entry& entry, plane::Vec2 a, plane::Vec2 b) {
    if (std::min(a.x, b.x) <= box.maxX && std::max(a.x, b.x) >= box.minX && std::min(a.y, b.y) <= box.maxY &&
        std::max(a.y, b.y) >= box.minY)
      f(entry);
  });
}

}  // namespace inselberg::project
