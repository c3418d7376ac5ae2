// The two sets of colours: legible, told apart by everybody, and changed under the user's hand.
#include <QLabel>
#include <QSettings>
#include <algorithm>
#include <array>
#include <cmath>

#include "canvas/sheet_layer.h"
#include "relief/relief_view.h"
#include "support/driver.h"
#include "support/grounds.h"
#include "theme/theme.h"

using namespace inselberg;
using namespace inselberg::testing;
namespace theme = app::theme;
using theme::Palette;
using theme::Theme;

namespace {

using Light = std::array<double, 3>;  // linear red, green, blue, 0..1

Light linear(const QColor& c) {
  const auto part = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return {part(c.redF()), part(c.greenF()), part(c.blueF())};
}

// The contrast of WCAG 2.1, 1 to 21.
double contrast(const QColor& a, const QColor& b) {
  const auto bright = [](const QColor& c) {
    const Light l = linear(c);
    return 0.2126 * l[0] + 0.7152 * l[1] + 0.0722 * l[2] + 0.05;
  };
  return std::max(bright(a), bright(b)) / std::min(bright(a), bright(b));
}

// How colours look to people without one kind of cones (Machado, Oliveira and Fernandes 2009, severity 1).
using Sight = std::array<Light, 3>;
constexpr Sight kAll{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
constexpr Sight kNoLong{
    {{0.152286, 1.052583, -0.204868}, {0.114503, 0.786281, 0.099216}, {-0.003882, -0.048116, 1.051998}}};
constexpr Sight kNoMiddle{
    {{0.367322, 0.860646, -0.227968}, {0.280085, 0.672501, 0.047413}, {-0.011820, 0.042940, 0.968881}}};
constexpr Sight kNoShort{
    {{1.255528, -0.076749, -0.178779}, {-0.078411, 0.930809, 0.147602}, {0.004733, 0.691367, 0.303900}}};

// In CIELAB, under daylight.
Light seen(const QColor& colour, const Sight& sight) {
  const Light l = linear(colour);
  Light c;
  for (int i = 0; i < 3; ++i) c[i] = std::clamp(sight[i][0] * l[0] + sight[i][1] * l[1] + sight[i][2] * l[2], 0., 1.);
  const auto f = [](double t) { return t > 0.008856 ? std::cbrt(t) : 7.787 * t + 16.0 / 116; };
  const double x = f((0.4124 * c[0] + 0.3576 * c[1] + 0.1805 * c[2]) / 0.9505),
               y = f(0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2]),
               z = f((0.0193 * c[0] + 0.1192 * c[1] + 0.9505 * c[2]) / 1.089);
  return {116 * y - 16, 500 * (x - y), 200 * (y - z)};
}

double apart(const QColor& a, const QColor& b, const Sight& sight) {
  const Light p = seen(a, sight), q = seen(b, sight);
  return std::hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}

struct Named {
  const char* name;
  QColor colour;
};

// Back to light, whatever a test does.
struct Restored {
  ~Restored() { theme::choose(Theme::light); }
};

QColor middleOf(const QWidget& widget, QPoint at) {
  return const_cast<QWidget&>(widget).grab().toImage().pixelColor(at);
}

}  // namespace

TEST_CASE("Words are legible and areas stand out in both themes") {
  const Restored restored;
  for (const Theme which : {Theme::light, Theme::dark}) {
    theme::choose(which);
    const Palette& p = theme::paletteOf(which);
    for (const QColor& below : {p.paper, p.panel}) {
      for (const auto& [name, colour] :
           {Named{"ink", p.ink}, Named{"muted", p.muted}, Named{"error", p.error}, Named{"cut", theme::written(p.cut)},
            Named{"fill", theme::written(p.fill)}, Named{"loam", theme::written(p.loam)}}) {
        INFO(name << (which == Theme::dark ? ", dark" : ", light"));
        CHECK(contrast(colour, below) >= 4.5);
      }
      for (const auto& [name, colour] :
           {Named{"cut", p.cut}, Named{"fill", p.fill}, Named{"loam", p.loam}, Named{"granite", p.granite},
            Named{"daylight", p.daylight}, Named{"water", p.water}, Named{"contour", p.contour}}) {
        INFO(name << (which == Theme::dark ? ", dark" : ", light"));
        CHECK(contrast(colour, below) >= 3);
      }
    }
    for (int i = 0; i < 5; ++i) CHECK(contrast(p.ink, theme::groundTint(i, 5)) >= 4.5);
    // What is chosen is marked in amber, with dark words on it.
    CHECK(contrast(theme::paletteOf(Theme::light).ink, p.amber) >= 4.5);
  }
}

TEST_CASE("Meanings that lie side by side can be told apart without each kind of cones") {
  for (const Theme which : {Theme::light, Theme::dark}) {
    const Palette& p = theme::paletteOf(which);
    const std::array all{Named{"cut", p.cut},     Named{"fill", p.fill},         Named{"ink", p.ink},
                         Named{"amber", p.amber}, Named{"daylight", p.daylight}, Named{"water", p.water}};
    for (const Sight* sight : {&kAll, &kNoLong, &kNoMiddle, &kNoShort}) {
      CHECK(apart(p.cut, p.fill, *sight) > 50);  // the pair that everything hangs on
      for (std::size_t i = 0; i < all.size(); ++i) {
        for (std::size_t k = 0; k < i; ++k) {
          INFO(all[i].name << " and " << all[k].name << (which == Theme::dark ? ", dark" : ", light"));
          CHECK(apart(all[i].colour, all[k].colour, *sight) > 15);
        }
      }
    }
  }
}

TEST_CASE("The colours of eight works in turn can be told apart without each kind of cones") {
  for (const Sight* sight : {&kAll, &kNoLong, &kNoMiddle, &kNoShort}) {
    for (std::size_t i = 0; i < 8; ++i) {
      for (std::size_t k = 0; k < i; ++k) {
        CAPTURE(i, k);
        CHECK(apart(theme::worksColour(i), theme::worksColour(k), *sight) > 25);
      }
    }
  }
  CHECK(theme::worksColour(8) == theme::worksColour(0));
  const Restored restored;
  for (const Theme which : {Theme::light, Theme::dark}) {
    theme::choose(which);
    // What an upright cut shows, one beside the other.
    for (const Sight* sight : {&kAll, &kNoLong, &kNoMiddle, &kNoShort}) {
      CHECK(apart(theme::earth(), theme::filled(), *sight) > 15);
      CHECK(apart(theme::earth(), theme::refilled(), *sight) > 15);
      CHECK(apart(theme::filled(), theme::refilled(), *sight) > 15);
      CHECK(apart(theme::builtUp(), theme::refilled(), *sight) > 15);
      CHECK(apart(theme::builtUp(), theme::filled(), *sight) > 15);
      CHECK(apart(theme::builtUp(), theme::earth(), *sight) > 15);
    }
  }
}

TEST_CASE("The depth map goes one way from paper on each side, so that greys tell how deep") {
  const Restored restored;
  for (const Theme which : {Theme::light, Theme::dark}) {
    theme::choose(which);
    for (const double side : {-1.0, 1.0}) {
      double last = contrast(theme::depthColour(0, 1), theme::paper());
      for (double depth = 0.1; depth <= 1.001; depth += 0.1) {
        const double now = contrast(theme::depthColour(side * depth, 1), theme::paper());
        CHECK(now > last);
        last = now;
      }
    }
  }
}

TEST_CASE("A ground is darker in dark colours, and its contours are seen on it in both") {
  const Restored restored;
  const auto lightness = [](Theme which) {
    theme::choose(which);
    for (const double along : {0.0, 0.5, 1.0}) CHECK(contrast(theme::ink(), theme::levelColour(along)) > 2);
    return theme::levelColour(0.5).lightnessF();
  };
  CHECK(lightness(Theme::dark) < 0.6 * lightness(Theme::light));
}

TEST_CASE("Dark colours are chosen and put away again under the user's hand, and remembered") {
  const Restored restored;
  Driver d;
  d.openDemo("depot.inselberg");
  const auto corner = [&] { return middleOf(d.window.plan(), {3, d.window.plan().height() - 3}); };
  const QColor light = corner();
  const QString wrote = d.find<QToolButton>("ledgerCut")->text();
  d.act("dark");
  d.settle();
  CHECK(theme::current() == Theme::dark);
  CHECK(theme::remembered() == Theme::dark);
  CHECK(d.window.findChild<QAction*>("dark")->isChecked());
  CHECK(corner().lightness() < light.lightness() / 2);
  CHECK(middleOf(d.window.column(), {2, 2}).lightness() < 100);
  CHECK(d.find<QToolButton>("ledgerCut")->palette().color(QPalette::ButtonText) == theme::written(theme::cut()));
  CHECK(d.find<QToolButton>("ledgerCut")->text() == wrote);
  // Nothing of the picture is left in the colours of before: it is the same once it is drawn anew.
  const QImage now = d.window.plan().grab().toImage();
  d.key(Qt::Key_Left);
  d.settle();
  d.key(Qt::Key_Right);
  d.settle();
  CHECK(d.window.plan().grab().toImage() == now);
  // Every button's picture is light on the dark bar.
  int pictures = 0;
  for (const QToolButton* button : d.window.findChildren<QToolButton*>()) {
    if (button->icon().isNull() || !button->isEnabled() || !button->isVisible()) continue;
    const QImage picture = button->icon().pixmap(20).toImage();
    double lightness = 0, weight = 0;
    for (int y = 0; y < picture.height(); ++y) {
      for (int x = 0; x < picture.width(); ++x) {
        const QColor c = picture.pixelColor(x, y);
        lightness += c.alphaF() * c.lightnessF(), weight += c.alphaF();
      }
    }
    CAPTURE(button->text().toStdString(), button->objectName().toStdString());
    CHECK(lightness > 0.6 * weight);
    ++pictures;
  }
  CHECK(pictures > 5);
  d.act("dark");
  d.settle();
  CHECK(theme::remembered() == Theme::light);
  CHECK(corner() == light);
}

TEST_CASE("Text is as large as the desktop's own") {
  CHECK(theme::pixels(12) == QFontInfo(QApplication::font()).pixelSize());
  Driver d;
  CHECK(d.find<QToolButton>("ledgerCut")->font().pixelSize() == theme::pixels(12));
}
