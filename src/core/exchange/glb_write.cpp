// Binary glTF 2.0: a head of JSON that says what stands where in the numbers behind it.
#include <bit>
#include <cmath>
#include <nlohmann/json.hpp>

#include "exchange/ground_write.h"
#include "ground/smooth.h"

namespace inselberg::exchange {
namespace {

using nlohmann::json;

// `corners`: bytes of the corners' places, and of their normals after them; `bytes`: of all, the triangles last.
json headOf(const ground::Tin& tin, const plane::Origin& origin, std::size_t corners, std::size_t bytes) {
  const plane::Vec2 middle = tin.bounds().centre();
  const auto single = [](double v) { return static_cast<double>(static_cast<float>(v)); };
  const plane::Box& box = tin.bounds();
  const json least{single(box.minX - middle.x), single(tin.minLevel()), single(middle.y - box.maxY)};
  const json greatest{single(box.maxX - middle.x), single(tin.maxLevel()), single(middle.y - box.minY)};
  const std::size_t count = tin.points().size(), indices = 3 * tin.triangles().size();
  constexpr int kFloat = 5126, kUnsigned = 5125, kCorners = 34962, kIndices = 34963;
  return {
      {"asset", {{"version", "2.0"}, {"generator", "Inselberg"}}},
      {"scene", 0},
      {"scenes", json::array({{{"nodes", {0}}}})},
      {"nodes",
       json::array({{{"mesh", 0},
                     {"name", "ground"},
                     {"extras", {{"easting", middle.x + origin.easting}, {"northing", middle.y + origin.northing}}}}})},
      {"materials",
       json::array({{{"doubleSided", true},
                     {"pbrMetallicRoughness",
                      {{"baseColorFactor", {0.7, 0.66, 0.55, 1}}, {"metallicFactor", 0}, {"roughnessFactor", 1}}}}})},
      {"meshes",
       json::array(
           {{{"primitives",
              json::array({{{"attributes", {{"POSITION", 0}, {"NORMAL", 1}}}, {"indices", 2}, {"material", 0}}})}}})},
      {"accessors",
       json::array({{{"bufferView", 0},
                     {"componentType", kFloat},
                     {"count", count},
                     {"type", "VEC3"},
                     {"min", least},
                     {"max", greatest}},
                    {{"bufferView", 1}, {"componentType", kFloat}, {"count", count}, {"type", "VEC3"}},
                    {{"bufferView", 2}, {"componentType", kUnsigned}, {"count", indices}, {"type", "SCALAR"}}})},
      {"bufferViews",
       json::array(
           {{{"buffer", 0}, {"byteOffset", 0}, {"byteLength", corners}, {"target", kCorners}},
            {{"buffer", 0}, {"byteOffset", corners}, {"byteLength", corners}, {"target", kCorners}},
            {{"buffer", 0}, {"byteOffset", 2 * corners}, {"byteLength", bytes - 2 * corners}, {"target", kIndices}}})},
      {"buffers", json::array({{{"byteLength", bytes}}})}};
}

}  // namespace

std::string groundToGlb(const ground::Tin& tin, const plane::Origin& origin) {
  static_assert(std::endian::native == std::endian::little, "the format is");
  const plane::Vec2 middle = tin.bounds().centre();
  std::string numbers;
  const auto put = [](std::string& out, const auto& value) {
    out.append(reinterpret_cast<const char*>(&value), sizeof value);
  };
  const auto three = [&](double east, double up, double south) {
    for (const double v : {east, up, south}) put(numbers, static_cast<float>(v));
  };
  // East, up and south make a right-handed system, as the format wants it.
  for (const plane::Vec3& p : tin.points()) three(p.x - middle.x, p.z, middle.y - p.y);
  for (const plane::Vec2 g : ground::cornerGradients(tin, {})) {
    const double length = std::sqrt(1 + plane::dot(g, g));
    three(-g.x / length, 1 / length, g.y / length);
  }
  const std::size_t corners = numbers.size() / 2;
  for (const ground::Triangle& t : tin.triangles()) {
    for (const ground::Index v : t) put(numbers, static_cast<std::uint32_t>(v));
  }
  std::string text = headOf(tin, origin, corners, numbers.size()).dump();
  text.resize((text.size() + 3) / 4 * 4, ' ');
  std::string out;
  const auto chunk = [&](const char* kind, const std::string& content) {
    put(out, static_cast<std::uint32_t>(content.size()));
    out.append(kind, 4);
    out += content;
  };
  out.append("glTF");
  put(out, std::uint32_t{2});
  put(out, static_cast<std::uint32_t>(12 + 8 + text.size() + 8 + numbers.size()));
  chunk("JSON", text);
  chunk("BIN\0", numbers);
  return out;
}

}  // namespace inselberg::exchange
