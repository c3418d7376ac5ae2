#include "exchange/dxf_write.h"

#include <fmt/format.h>

#include <cctype>
#include <iterator>

namespace inselberg::exchange {

const char* dxfStart() {
  return "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n9\n$"
         "INSUNITS\n70\n6\n0\nENDSEC\n0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nAPPID\n70\n1\n"
         "0\nAPPID\n2\nINSELBERG\n70\n0\n0\nENDTAB\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n";
}

const char* dxfEnd() {
  return "0\nENDSEC\n0\nEOF\n";
}

void addPolyline(std::string& drawing, const std::string& layer, bool closed, std::span<const plane::Vec3> points,
                 const DxfLook& look) {
  const auto to = std::back_inserter(drawing);
  fmt::format_to(to, "0\nPOLYLINE\n8\n{}\n", layer);
  if (look.colour != 256) fmt::format_to(to, "62\n{}\n", look.colour);
  fmt::format_to(to, "66\n1\n10\n0.0\n20\n0.0\n30\n0.0\n70\n{}\n", closed ? 9 : 8);
  if (!look.notes.empty()) drawing += "1001\nINSELBERG\n";
  for (const std::string& note : look.notes) fmt::format_to(to, "1000\n{}\n", note);
  for (const plane::Vec3& p : points)
    fmt::format_to(to, "0\nVERTEX\n8\n{}\n10\n{:.6f}\n20\n{:.6f}\n30\n{:.6f}\n70\n32\n", layer, p.x, p.y, p.z);
  fmt::format_to(to, "0\nSEQEND\n8\n{}\n", layer);
}

void addPoint(std::string& drawing, const std::string& layer, const plane::Vec3& at) {
  fmt::format_to(std::back_inserter(drawing), "0\nPOINT\n8\n{}\n10\n{:.6f}\n20\n{:.6f}\n30\n{:.6f}\n", layer, at.x,
                 at.y, at.z);
}

void addText(std::string& drawing, const std::string& layer, const plane::Vec3& at, const std::string& text,
             double height, double turned) {
  // What is not plain goes as code points, as files of this version want it.
  std::string line;
  for (std::size_t i = 0; i < text.size();) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c < 0x80) {
      line += c < 0x20 ? ' ' : text[i];
      ++i;
      continue;
    }
    const int more = c >= 0xf0 ? 3 : c >= 0xe0 ? 2 : 1;
    unsigned code = c & (0x3fu >> more);
    for (++i; i < text.size() && (static_cast<unsigned char>(text[i]) & 0xc0) == 0x80; ++i)
      code = code << 6 | (static_cast<unsigned char>(text[i]) & 0x3fu);
    line += fmt::format("\\U+{:04X}", code);
  }
  fmt::format_to(std::back_inserter(drawing),
                 "0\nTEXT\n8\n{0}\n10\n{1:.6f}\n20\n{2:.6f}\n30\n{3:.6f}\n40\n{4}\n1\n{5}\n50\n{6:.6f}\n"
                 "72\n1\n11\n{1:.6f}\n21\n{2:.6f}\n31\n{3:.6f}\n73\n2\n",
                 layer, at.x, at.y, at.z, height, line, turned);
}

std::string dxfLayer(const std::string& name) {
  std::string made;
  for (const char c : name) {
    const auto u = static_cast<unsigned char>(c);
    made += std::isalnum(u) || c == '-' ? static_cast<char>(std::toupper(u)) : '_';
  }
  return made;
}

}  // namespace inselberg::exchange
