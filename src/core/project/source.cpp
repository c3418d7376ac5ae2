#include "project/source.h"

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
    h.value(line.closed);
  }
  h.value(boundaries.size());
  for (const auto& polygon : boundaries) {
    feedRing(polygon.outer);
    h.value(polygon.holes.size());
    for (const auto& hole : polygon.holes) feedRing(hole);
  }
  feed3(modelPoints);
  h.value(modelTriangles.size()).bytes(modelTriangles.data(), modelTriangles.size() * sizeof(ground::Triangle));
  return h.finish();
}

std::shared_ptr<const Source> makeSource(SourceId id, std::string name, std::string file, SourceData data) {
  const Hash hash = data.hash();
  return std::make_shared<Source>(
      Source{id, std::move(name), std::move(file), std::make_shared<SourceData>(std::move(data)), hash});
}

}  // namespace inselberg::project
