#include "project/source.h"

#include <algorithm>

#include "base/text.h"
#include "project/each_side.h"

namespace inselberg::project {

Hash SourceData::hash() const {
  Hasher h;
  const auto bytes = [](Hasher& to, const auto& item) { to.bytes(&item, sizeof item); };
  const auto feedRing = [&](const plane::Ring& ring) {
    h.value(ring.size()).bytes(ring.data(), ring.size() * sizeof(plane::Vec2));
  };
  h.hash(points.hash(bytes)).hash(codes.hash([](Hasher& to, const std::string& code) { to.text(code); }));
  h.hash(breaklines.hash([](Hasher& to, const ground::Breakline& line) {
    to.value(line.vertices.size()).bytes(line.vertices.data(), line.vertices.size() * sizeof(plane::Vec3));
    to.value(static_cast<std::uint8_t>((line.closed ? 1 : 0) | (line.contour ? 2 : 0)));
  }));
  for (const auto* polygons : {&boundaries, &voids}) {
    h.value(polygons->size());
    for (const auto& polygon : *polygons) {
      feedRing(polygon.outer);
      h.value(polygon.holes.size());
      for (const auto& hole : polygon.holes) feedRing(hole);
    }
  }
  return h.hash(modelPoints.hash(bytes)).hash(modelTriangles.hash(bytes)).finish();
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

SourcePtr changedSource(const Source& before, SourceData data,
                        std::vector<std::pair<FeatureKind, std::size_t>> changed) {
  constexpr std::size_t kMost = 64;  // more are not worth looking up besides
  auto source = std::make_shared<Source>(before);
  source->hash = data.hash();
  source->data = std::make_shared<SourceData>(std::move(data));
  source->lazyIndex = std::make_shared<Source::LazyIndex>();
  const auto& old = before.lazyIndex;
  if (!old->ready && old->of) changed.insert(changed.end(), old->but.begin(), old->but.end());
  std::sort(changed.begin(), changed.end());
  changed.erase(std::unique(changed.begin(), changed.end()), changed.end());
  if (changed.size() > kMost) return source;
  source->lazyIndex->of = !old->ready && old->of ? old->of : old;
  source->lazyIndex->but = std::move(changed);
  return source;
}

void Source::makeIndex() const {
  if (lazyIndex->begun.exchange(true)) return;
  lazyIndex->index = std::make_unique<const SourceIndex>(*data);
  lazyIndex->ready = true;
}

void Source::eachNear(const plane::Box& box, const std::function<void(const SourceIndex::Entry&)>& f) const {
  if (lazyIndex->ready) return lazyIndex->index->touching(box, f);
  const auto ifNear = [&](const SourceIndex::Entry& entry, plane::Vec2 a, plane::Vec2 b) {
    if (std::min(a.x, b.x) <= box.maxX && std::max(a.x, b.x) >= box.minX && std::min(a.y, b.y) <= box.maxY &&
        std::max(a.y, b.y) >= box.minY)
      f(entry);
  };
  if (!lazyIndex->of || !lazyIndex->of->ready) return eachSide(*data, ifNear);
  const auto& but = lazyIndex->but;
  lazyIndex->of->index->touching(box, [&](const SourceIndex::Entry& entry) {
    if (!std::binary_search(but.begin(), but.end(), std::pair<FeatureKind, std::size_t>(entry.kind, entry.index)))
      f(entry);
  });
  for (const auto& [kind, index] : but) eachSideOf(*data, kind, index, ifNear);
}

}  // namespace inselberg::project
