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

SourcePtr makeSource(SourceId id, SourceInfo info, SourceData data) {
  const Hash hash = data.hash();
  return std::make_shared<Source>(Source{std::move(info), id, std::make_shared<SourceData>(std::move(data)), hash});
}

}  // namespace inselberg::project
