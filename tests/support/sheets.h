// Plan sheets made up for tests: a PDF from what its page draws, and a picture from its pixels.
#pragma once

#include <fmt/format.h>

#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace inselberg::testing {

struct MadePdf {
  std::string content;                    // what the page draws
  std::string page = {};                  // more of its entries, as /Rotate 90
  std::string resources = {};             // beside the font /F1
  std::string catalog = {};               // more entries of the whole
  std::vector<std::string> objects = {};  // from number 6 on
  std::string box = "0 0 720 360";        // 254 by 127 mm
  int copies = 1;                         // of the page
  std::string trailer = {};               // more of its entries
};

inline std::string pdfOf(const MadePdf& made) {
  std::string kids;
  for (int i = 0; i < made.copies; ++i) kids += "3 0 R ";
  std::vector<std::string> objects{
      "<< /Type /Catalog /Pages 2 0 R " + made.catalog + " >>",
      fmt::format("<< /Type /Pages /Kids [{}] /Count {} >>", kids, made.copies),
      fmt::format(
          "<< /Type /Page /Parent 2 0 R /MediaBox [{}] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> {} >> {} >>",
          made.box, made.resources, made.page),
      fmt::format("<< /Length {} >>\nstream\n{}\nendstream", made.content.size(), made.content),
      "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>"};
  objects.insert(objects.end(), made.objects.begin(), made.objects.end());
  std::string pdf = "%PDF-1.7\n", table;
  for (std::size_t i = 0; i < objects.size(); ++i) {
    table += fmt::format("{:010} 00000 n \n", pdf.size());
    pdf += fmt::format("{} 0 obj\n{}\nendobj\n", i + 1, objects[i]);
  }
  return pdf +
         fmt::format(
             "xref\n0 {0}\n0000000000 65535 f \n{1}trailer << /Size {0} /Root 1 0 R {3} >>\nstartxref\n{2}\n%%EOF\n",
             objects.size() + 1, table, pdf.size(), made.trailer);
}

// A TIFF without packing, of chunky pixels.
struct MadeTiff {
  int width = 0, height = 0;
  int samples = 3, bits = 8;
  int photometric = 2;  // 0 white is zero, 1 black is zero, 2 colours, 5 inks
  int turn = 1;
  double perInch = 0;                                              // 0: none told
  std::function<int(int column, int row, int sample)> value = {};  // from the top
};

inline std::string tiffOf(const MadeTiff& made) {
  std::string file = "II*";
  const auto number = [&file](std::uint32_t value, int bytes) {
    for (int i = 0; i < bytes; ++i) file += static_cast<char>(value >> (8 * i) & 255);
  };
  file += '\0';
  const std::uint32_t size = static_cast<std::uint32_t>(made.width * made.height * made.samples * made.bits / 8);
  const std::uint32_t directory = 8 + size + size % 2;
  number(directory, 4);
  for (int r = 0; r < made.height; ++r) {
    for (int c = 0; c < made.width; ++c) {
      for (int s = 0; s < made.samples; ++s) number(static_cast<std::uint32_t>(made.value(c, r, s)), made.bits / 8);
    }
  }
  if (size % 2 != 0) file += '\0';
  struct Entry {
    std::uint32_t tag, type, count, value;
  };
  std::vector<Entry> entries{
      {256, 3, 1, static_cast<std::uint32_t>(made.width)},       {257, 3, 1, static_cast<std::uint32_t>(made.height)},
      {258, 3, static_cast<std::uint32_t>(made.samples), 0},     {259, 3, 1, 1},
      {262, 3, 1, static_cast<std::uint32_t>(made.photometric)}, {273, 4, 1, 8},
      {274, 3, 1, static_cast<std::uint32_t>(made.turn)},        {277, 3, 1, static_cast<std::uint32_t>(made.samples)},
      {278, 3, 1, static_cast<std::uint32_t>(made.height)},      {279, 4, 1, size}};
  if (made.perInch > 0) {
    entries.push_back({282, 5, 1, 0});
    entries.push_back({283, 5, 1, 0});
    entries.push_back({296, 3, 1, 2});
  }
  const std::uint32_t behind = directory + 2 + 12 * static_cast<std::uint32_t>(entries.size()) + 4;
  number(static_cast<std::uint32_t>(entries.size()), 2);
  for (Entry& e : entries) {
    if (e.tag == 258) e.value = made.samples > 2 ? behind : static_cast<std::uint32_t>(made.bits);
    if (e.tag == 282 || e.tag == 283) e.value = behind + 8;
    number(e.tag, 2), number(e.type, 2), number(e.count, 4);
    number(e.value, 4);
  }
  number(0, 4);
  for (int i = 0; i < 4; ++i) number(static_cast<std::uint32_t>(made.bits), 2);
  number(static_cast<std::uint32_t>(made.perInch * 1000), 4), number(1000, 4);
  return file;
}

inline std::shared_ptr<const std::string> shared(std::string bytes) {
  return std::make_shared<const std::string>(std::move(bytes));
}

}  // namespace inselberg::testing
