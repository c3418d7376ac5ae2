#include "drawing/paper_write.h"

#include <cairo-pdf.h>
#include <cairo.h>
#include <fmt/format.h>

#include <cmath>
#include <memory>
#include <numbers>

#include "base/error.h"

namespace inselberg::drawing {
namespace {

using plane::Vec2;

constexpr double kPointsPerMm = 72 / 25.4;
constexpr const char* kFont = "DejaVu Sans";

std::string hex(Colour c) {
  return fmt::format("#{:06x}", c & 0xffffff);
}

std::string escaped(const std::string& text) {
  std::string made;
  for (const char c : text) {
    switch (c) {
      case '&':
        made += "&amp;";
        break;
      case '<':
        made += "&lt;";
        break;
      case '>':
        made += "&gt;";
        break;
      case '"':
        made += "&quot;";
        break;
      default:
        if (static_cast<unsigned char>(c) >= 0x20) made += c;
    }
  }
  return made;
}

std::string svgOf(const Path& path, double height) {
  std::string d;
  for (std::size_t i = 0; i < path.points.size(); ++i)
    d += fmt::format("{}{:.3f} {:.3f}", i == 0 ? "M" : "L", path.points[i].x, height - path.points[i].y);
  if (path.closed) d += "Z";
  std::string style = path.fill ? fmt::format("fill=\"{}\" fill-opacity=\"{:.2f}\"", hex(*path.fill), path.opacity)
                                : std::string("fill=\"none\"");
  if (path.pen) {
    style += fmt::format(" stroke=\"{}\" stroke-width=\"{:.3f}\" stroke-linejoin=\"round\"", hex(path.pen->colour),
                         path.pen->width);
    if (!path.pen->dash.empty()) style += fmt::format(" stroke-dasharray=\"{:.2f}\"", fmt::join(path.pen->dash, " "));
  }
  return fmt::format("<path d=\"{}\" {}/>\n", d, style);
}

std::string svgOf(const Text& text, double height) {
  const char* anchor = text.anchor == Anchor::begin ? "start" : text.anchor == Anchor::middle ? "middle" : "end";
  std::string turn;
  if (text.turned != 0)
    turn = fmt::format(" transform=\"rotate({:.2f} {:.3f} {:.3f})\"", -text.turned, text.at.x, height - text.at.y);
  return fmt::format(
      "<text x=\"{:.3f}\" y=\"{:.3f}\" font-size=\"{:.2f}\" fill=\"{}\" text-anchor=\"{}\"{}{}>{}</text>\n", text.at.x,
      height - text.at.y, text.height, hex(text.colour), anchor, text.bold ? " font-weight=\"bold\"" : "", turn,
      escaped(text.text));
}

struct Context {
  explicit Context(cairo_surface_t* onto) : surface(onto), cairo(cairo_create(onto)) {}
  ~Context() {
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
  }
  Context(const Context&) = delete;
  Context& operator=(const Context&) = delete;
  void check() const {
    const auto status =
        cairo_surface_status(surface) != CAIRO_STATUS_SUCCESS ? cairo_surface_status(surface) : cairo_status(cairo);
    if (status != CAIRO_STATUS_SUCCESS)
      throw Error(std::string("the drawing cannot be made: ") + cairo_status_to_string(status), "try a smaller one");
  }
  cairo_surface_t* surface;
  cairo_t* cairo;
};

void setColour(cairo_t* c, Colour colour, double opacity = 1) {
  cairo_set_source_rgba(c, (colour >> 16 & 255) / 255.0, (colour >> 8 & 255) / 255.0, (colour & 255) / 255.0, opacity);
}

void draw(cairo_t* c, const Path& path, double height) {
  for (const Vec2 p : path.points) cairo_line_to(c, p.x, height - p.y);
  if (path.closed) cairo_close_path(c);
  if (path.fill) {
    setColour(c, *path.fill, path.opacity);
    cairo_fill_preserve(c);
  }
  if (path.pen) {
    setColour(c, path.pen->colour);
    cairo_set_line_width(c, path.pen->width);
    cairo_set_dash(c, path.pen->dash.data(), static_cast<int>(path.pen->dash.size()), 0);
    cairo_stroke_preserve(c);
  }
  cairo_new_path(c);
}

void draw(cairo_t* c, const Text& text, double height) {
  cairo_select_font_face(c, kFont, CAIRO_FONT_SLANT_NORMAL,
                         text.bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
  cairo_set_font_size(c, text.height);
  cairo_text_extents_t size;
  cairo_text_extents(c, text.text.c_str(), &size);
  const double share = text.anchor == Anchor::begin ? 0 : text.anchor == Anchor::middle ? 0.5 : 1;
  cairo_save(c);
  cairo_translate(c, text.at.x, height - text.at.y);
  cairo_rotate(c, -text.turned * std::numbers::pi / 180);
  cairo_move_to(c, -share * size.x_advance, 0);
  setColour(c, text.colour);
  cairo_show_text(c, text.text.c_str());
  cairo_restore(c);
  cairo_new_path(c);
}

// The cells as cairo wants them: with the opacity in the colours.
std::vector<std::uint32_t> premultiplied(const Picture& picture) {
  std::vector<std::uint32_t> cells = picture.cells;
  for (std::uint32_t& cell : cells) {
    const std::uint32_t a = cell >> 24;
    const auto part = [&](int shift) { return ((cell >> shift & 255) * a + 127) / 255 << shift; };
    cell = a << 24 | part(16) | part(8) | part(0);
  }
  return cells;
}

// Calls f(surface) for the cells.
template <class F>
void withSurface(const Picture& picture, F&& f) {
  if (picture.columns <= 0 || picture.rows <= 0) return;
  std::vector<std::uint32_t> cells = premultiplied(picture);
  cairo_surface_t* surface =
      cairo_image_surface_create_for_data(reinterpret_cast<unsigned char*>(cells.data()), CAIRO_FORMAT_ARGB32,
                                          picture.columns, picture.rows, 4 * picture.columns);
  f(surface);
  cairo_surface_finish(surface);
  cairo_surface_destroy(surface);
}

void draw(cairo_t* c, const Picture& picture, double height) {
  withSurface(picture, [&](cairo_surface_t* surface) {
    cairo_save(c);
    cairo_translate(c, picture.at.minX, height - picture.at.maxY);
    cairo_scale(c, picture.at.width() / picture.columns, picture.at.height() / picture.rows);
    cairo_set_source_surface(c, surface, 0, 0);
    cairo_paint(c);
    cairo_restore(c);
  });
}

void draw(cairo_t* c, const Page& page) {
  for (const auto& item : page.items) std::visit([&](const auto& i) { draw(c, i, page.height); }, item);
}

cairo_status_t append(void* to, const unsigned char* bytes, unsigned int n) {
  static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(bytes), n);
  return CAIRO_STATUS_SUCCESS;
}

std::string base64(const std::string& bytes) {
  constexpr char kDigits[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string text;
  for (std::size_t i = 0; i < bytes.size(); i += 3) {
    std::uint32_t three = 0;
    for (std::size_t k = 0; k < 3; ++k)
      three = three << 8 | (i + k < bytes.size() ? static_cast<unsigned char>(bytes[i + k]) : 0u);
    for (std::size_t k = 0; k < 4; ++k) text += i + k <= bytes.size() ? kDigits[three >> (18 - 6 * k) & 63] : '=';
  }
  return text;
}

std::string svgOf(const Picture& picture, double height) {
  std::string png;
  withSurface(picture, [&](cairo_surface_t* surface) { cairo_surface_write_to_png_stream(surface, append, &png); });
  return fmt::format(
      "<image x=\"{:.3f}\" y=\"{:.3f}\" width=\"{:.3f}\" height=\"{:.3f}\" preserveAspectRatio=\"none\" "
      "href=\"data:image/png;base64,{}\"/>\n",
      picture.at.minX, height - picture.at.maxY, picture.at.width(), picture.at.height(), base64(png));
}

}  // namespace

std::string asSvg(const Page& page) {
  std::string text = fmt::format(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0:.2f}mm\" "
      "height=\"{1:.2f}mm\" viewBox=\"0 0 {0:.2f} {1:.2f}\" font-family=\"{2}, sans-serif\">\n"
      "<rect width=\"100%\" height=\"100%\" fill=\"#ffffff\"/>\n",
      page.width, page.height, kFont);
  for (const auto& item : page.items) text += std::visit([&](const auto& i) { return svgOf(i, page.height); }, item);
  return text + "</svg>\n";
}

std::string asPdf(std::span<const Page> pages) {
  std::string bytes;
  {
    Context context(cairo_pdf_surface_create_for_stream(append, &bytes, 10, 10));
    for (const Page& page : pages) {
      cairo_pdf_surface_set_size(context.surface, page.width * kPointsPerMm, page.height * kPointsPerMm);
      cairo_save(context.cairo);
      cairo_scale(context.cairo, kPointsPerMm, kPointsPerMm);
      draw(context.cairo, page);
      cairo_restore(context.cairo);
      cairo_show_page(context.cairo);
    }
    cairo_surface_finish(context.surface);
    context.check();
  }
  return bytes;
}

std::string asPng(const Page& page, double dotsPerMm) {
  std::string bytes;
  Context context(cairo_image_surface_create(CAIRO_FORMAT_RGB24, static_cast<int>(std::ceil(page.width * dotsPerMm)),
                                             static_cast<int>(std::ceil(page.height * dotsPerMm))));
  context.check();
  setColour(context.cairo, 0xffffff);
  cairo_paint(context.cairo);
  cairo_scale(context.cairo, dotsPerMm, dotsPerMm);
  draw(context.cairo, page);
  context.check();
  cairo_surface_write_to_png_stream(context.surface, append, &bytes);
  return bytes;
}

}  // namespace inselberg::drawing
