#include "theme/theme.h"

#include <QApplication>
#include <QDir>
#include <QFileInfo>
#include <QFontInfo>
#include <QHash>
#include <QPainter>
#include <QPixmap>
#include <QSettings>
#include <QStandardPaths>
#include <QSvgRenderer>
#include <algorithm>
#include <atomic>
#include <cmath>

namespace inselberg::app::theme {
namespace {

QColor hex(QRgb rgb) {
  return QColor::fromRgb(rgb);
}

// Colour-blind people tell cut from fill in both; the water's blue keeps clear of the violet of daylight.
const Palette kLight{.paper = hex(0xF7F4EE),
                     .panel = hex(0xEFEAE0),
                     .rule = hex(0xD8D0C2),
                     .ink = hex(0x22303A),
                     .muted = hex(0x5B6670),
                     .amber = hex(0xD9A400),
                     .cut = hex(0xC4571B),
                     .fill = hex(0x14808A),
                     .loam = hex(0x6B4A2B),
                     .granite = hex(0x8A7A66),
                     .daylight = hex(0x6A3D9A),
                     .error = hex(0xB3261E),
                     .water = hex(0x1F4FD0),
                     .contour = hex(0x5B4B3A),
                     .oldest = hex(0xA59B8C),
                     .youngest = hex(0xC9B48A),
                     .ground = 1};
const Palette kDark{.paper = hex(0x1B2126),
                    .panel = hex(0x252C32),
                    .rule = hex(0x414B53),
                    .ink = hex(0xECE7DC),
                    .muted = hex(0xA3ACB2),
                    .amber = hex(0xE3B32A),
                    .cut = hex(0xE88347),
                    .fill = hex(0x3DB4BE),
                    .loam = hex(0xC59A6B),
                    .granite = hex(0xB3A48E),
                    .daylight = hex(0xBC97EA),
                    .error = hex(0xF58A80),
                    .water = hex(0x6F8CF7),
                    .contour = hex(0xD9C6A5),
                    .oldest = hex(0x524D47),
                    .youngest = hex(0x66573A),
                    .ground = 0.38};

std::atomic<Theme> theTheme = Theme::light;

// Rings when other colours are chosen.
QObject& bell() {
  static QObject object;
  return object;
}

// Icons are drawn on 20 by 20, strokes of 1.5, round: those of works and stages,
const QHash<QString, QByteArray>& shapesOfWorks() {
  static const QHash<QString, QByteArray> all{
      {"pad",
       "<path d='M3 16 L6.5 8 H13.5 L17 16 Z'/><path d='M6.5 8 L6.5 5.5 M13.5 8 L13.5 5.5 M6.5 5.5 H13.5' "
       "stroke-dasharray='1.6 1.6'/>"},
      {"sloping_bed",
       "<path d='M1.5 8.5 L3.5 6 H6.5 L14 12.5 H16.5 L18.5 15'/><path d='M2 15.5 H18' stroke-dasharray='2 1.6'/>"},
      {"ramp", "<path d='M3 15 L13 5 H17 M3 15 H17 V5'/><path d='M6 15 V12 M9 15 V9' stroke-dasharray='1.5 1.5'/>"},
      {"run", "<path d='M5 17 C5 11 9 11 9 7 S11 3 15 3 M9 17 C9 13 13 13 13 9 S14 7 17 7'/>"},
      {"pond", "<path d='M2.5 6 H5 L8 13 H12 L15 6 H17.5'/><path d='M6 9 H14' stroke-dasharray='2 1.6'/>"},
      {"berm", "<path d='M2.5 15 L8 6 H12 L17.5 15'/><path d='M2.5 15 H17.5' stroke-dasharray='2 1.6'/>"},
      {"swale", "<path d='M2.5 6 L8 14 H12 L17.5 6'/><path d='M2.5 6 H17.5' stroke-dasharray='2 1.6'/>"},
      {"level_area", "<path d='M3 7 H17 V13 H3 Z'/><path d='M3 10 H17' stroke-dasharray='2 1.6'/>"},
      {"inlay", "<path d='M3 4 H17 V16 H3 Z'/><path d='M6 12 L9 8 L12 11 L14.5 7.5'/>"},
      {"sculpt",
       "<path d='M3 14 C7 14 7 8 10 8 S14 12 17 12'/><path d='M3 9 C6 9 7 4 10 4 S14 7 17 7'/><circle "
       "cx='10' cy='8' r='1.4'/>"},
      {"strip",
       "<path d='M2.5 7 C6 5.5 9 8.5 12 7 S16 6 17.5 7'/><path d='M2.5 11 C6 9.5 9 12.5 12 11 S16 10 17.5 11' "
       "stroke-dasharray='2 1.6'/><path d='M10 15 V3 M7.8 5.2 L10 3 L12.2 5.2'/>"},
      {"undercut",
       "<path d='M2.5 6 H17.5'/><path d='M4 6 L6.5 15 H13.5 L16 6'/><path d='M7 10 H13' stroke-dasharray='2 1.6'/>"},
      {"buildup",
       "<path d='M3 6 H17 M3 9.5 H17 M3 13 H17' /><path d='M3 6 V13 M17 6 V13'/><path d='M2 16.5 H18' "
       "stroke-dasharray='2 1.6'/>"},
  };
  return all;
}

// and all others.
const QHash<QString, QByteArray>& shapes() {
  static const QHash<QString, QByteArray> all{
      {"select", "<path d='M5 3 L15 11 L10.4 11.6 L13 17 L10.8 18 L8.4 12.6 L5 15.6 Z'/>"},
      {"import", "<path d='M3 13 V17 H17 V13 M10 3 V12 M6.5 8.8 L10 12.2 L13.5 8.8'/>"},
      {"balance",
       "<path d='M2.5 15.5 C6 15.5 6 8 10 10 S14.5 4.5 17.5 4.5'/><path d='M2.5 10 H17.5' stroke-dasharray='2 1.8'/>"},
      {"depth",
       "<path d='M3 7 C6 4 8 10 11 8 S15 4 17 6'/><path d='M3 13 H17'/><path d='M6 8 V13 M10 9 V13 M14 6.5 V13'/>"},
      {"levels", "<path d='M3 16 H17 M5 12.5 H15 M7 9 H13 M9 5.5 H11'/>"},
      {"down", "<path d='M6 8.5 L10 12.5 L14 8.5'/>"},
      {"levels-written", "<path d='M3 15 H17 L14 5 H6 Z M10 3 V7 M8 5 H12'/>"},
      {"flow", "<path d='M4 4 L9 9 M9 5 V9 H5 M11 11 L16 16 M16 12 V16 H12'/>"},
      {"steepness", "<path d='M3 16 L17 4 V16 Z M12 16 V8.3 M7.5 16 V12.2'/>"},
      {"triangles", "<path d='M3 16 L8 4 L17 9 Z M8 4 L11 13.2 M3 16 L17 9 M11 13.2 L17 17 L17 9'/>"},
      {"fit", "<path d='M3 7 V3 H7 M13 3 H17 V7 M17 13 V17 H13 M7 17 H3 V13'/>"},
      {"ground", "<path d='M2.5 14 L7 7 L10 11 L13 5.5 L17.5 14 Z'/>"},
      {"contours",
       "<path d='M10 8.5 C12 8.5 12.5 11 10.5 11.5 S8 8.5 10 8.5 Z'/><path d='M10 5 C15 5 16.5 13 11 14.5 S4.5 5 10 5 "
       "Z'/>"},
      {"export", "<path d='M3 13 V17 H17 V13 M10 12 V3 M6.5 6.4 L10 3 L13.5 6.4'/>"},
      {"eye", "<path d='M2.5 10 C5.5 5 14.5 5 17.5 10 C14.5 15 5.5 15 2.5 10 Z'/><circle cx='10' cy='10' r='2.2'/>"},
      {"eye-shut", "<path d='M2.5 9 C5.5 13.5 14.5 13.5 17.5 9 M5 12 L3.6 14 M10 12.8 V15 M15 12 L16.4 14'/>"},
      {"snap", "<path d='M10 4 L16 10 L10 16 L4 10 Z'/><circle cx='10' cy='10' r='1'/>"},
      {"right-angle", "<path d='M4 3 V16 H17 M4 11 H9 V16'/>"},
      {"table", "<path d='M3 4 H17 V16 H3 Z M3 8 H17 M8 8 V16 M3 12 H17'/>"},
      {"baseline", "<path d='M3 14 H17' stroke-dasharray='2 2'/><path d='M3 11 L7 7 L11 10 L17 4'/>"},
      {"second", "<path d='M3 4 H9 V16 H3 Z M3 8 H9 M3 12 H9 M6 4 V16'/><path d='M11.5 11 L13.5 13.5 L17.5 7'/>"},
      {"relief", "<path d='M2.5 15 L7.5 6 L10.5 11 L13 8 L17.5 15 Z M7.5 6 L9 15 M13 8 L12 15'/>"},
      {"cross",
       "<path d='M2.5 13 C5 13 6 8 9 8 S13 12 17.5 6'/><path d='M2.5 9.5 L7 10.5 H13 L17.5 11' stroke-dasharray='2 "
       "1.6'/><path d='M3 17 V3'/>"},
      {"quantities", "<path d='M15 4.5 H5 L10.5 10 L5 15.5 H15 M15 4.5 V6.5 M15 15.5 V13.5'/>"},
      {"region",
       "<path d='M3 4 L12 3 L17 8 L15 16 L5 17 Z'/><path d='M12 3 L10 10 L15 16 M10 10 L4 11' stroke-dasharray='2 "
       "1.6'/>"},
      {"takes-part", "<path d='M4.5 4.5 H15.5 V15.5 H4.5 Z'/><path d='M7.2 10.2 L9.3 12.3 L13 7.6'/>"},
      {"left-out", "<path d='M4.5 4.5 H15.5 V15.5 H4.5 Z'/>"},
      {"held", "<path d='M10 10 V17 M6 10 H14 L12.5 8 V4.5 H7.5 V8 Z'/>"},
      {"section",
       "<path d='M2.5 7 H7 L9 9 H11.5 L17 15'/><rect x='5.8' y='5.8' width='2.4' height='2.4'/><rect x='10.3' "
       "y='7.8' width='2.4' height='2.4'/>"},
      {"copy", "<path d='M7 7 H16 V17 H7 Z M7 13 H4 V3 H13 V7 M9.5 11 H13.5 M9.5 14 H13.5'/>"},
      {"sheet",
       "<path d='M3.5 3.5 H13 L16.5 7 V16.5 H3.5 Z M13 3.5 V7 H16.5'/><path d='M6 13.5 C8 9.5 11 13 14 9.5'/>"},
      {"survey",
       "<path d='M3 15 L8 9 L12 12 L17 5' stroke-dasharray='2.2 1.8'/><circle cx='8' cy='9' r='1.3'/><circle cx='12' "
       "cy='12' r='1.3'/>"},
      {"edit-line",
       "<path d='M3 16 L9 6 L16 9'/><rect x='7.4' y='4.4' width='3.2' height='3.2'/><path d='M13 12 L17.5 16.5'/>"},
      {"twoPlans", "<path d='M3 4 H17 V16 H3 Z M10 4 V16'/><path d='M5 12 L7 8.5 M12.5 12 L14.5 8.5'/>"},
      {"layout", "<path d='M3 4 H17 V16 H3 Z M3 12.5 H17 M11 12.5 V16'/><path d='M5.5 10 C8 5.5 11 10 14.5 6.5'/>"},
      {"draw", "<path d='M3 17 L4 13 L13.5 3.5 L16.5 6.5 L7 16 Z M11.5 5.5 L14.5 8.5'/>"},
      {"mend", "<path d='M3 16 L8 4 L17 8 L13 17 Z M8 4 L13 17' /><path d='M3 16 L17 8' stroke-dasharray='2 1.8'/>"},
      {"slope", "<path d='M3 15 H17 L3 6 Z M3 15 V6'/>"},
      {"water", "<path d='M10 3 C13.5 8 15 10 15 12.5 A5 5 0 0 1 5 12.5 C5 10 6.5 8 10 3 Z'/>"},
      {"open", "<path d='M2.5 16 V5 H8 L10 7 H16 V9 M2.5 16 L5.5 9 H18 L15.5 16 Z'/>"},
      {"save", "<path d='M3 3 H14 L17 6 V17 H3 Z M6 3 V8 H13 V3 M6 17 V12 H14 V17'/>"},
      {"undo", "<path d='M7 4 L3.5 7.5 L7 11 M3.5 7.5 H12 A4.5 4.5 0 0 1 12 16.5 H8'/>"},
      {"redo", "<path d='M13 4 L16.5 7.5 L13 11 M16.5 7.5 H8 A4.5 4.5 0 0 0 8 16.5 H12'/>"},
  };
  return all;
}

QPixmap drawn(const QByteArray& shape, const QColor& colour, int size) {
  const QByteArray svg = "<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 20 20'><g fill='none' stroke='" +
                         colour.name().toLatin1() +
                         "' stroke-width='1.5' stroke-linecap='round' stroke-linejoin='round'>" + shape + "</g></svg>";
  QSvgRenderer renderer(svg);
  QPixmap pixmap(size, size);
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  renderer.render(&painter);
  return pixmap;
}

QColor between(const QColor& a, const QColor& b, double t) {
  const auto mix = [t](int x, int y) { return static_cast<int>(std::lround(x + t * (y - x))); };
  return {mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue())};
}

// As much darker as grounds are in the theme.
QColor onGround(const QColor& colour) {
  return between(Qt::black, colour, palette().ground);
}

}  // namespace

const Palette& paletteOf(Theme theme) {
  return theme == Theme::dark ? kDark : kLight;
}

Theme current() {
  return theTheme;
}

const Palette& palette() {
  return paletteOf(theTheme);
}

void choose(Theme theme) {
  if (theTheme.exchange(theme) == theme) return;
  bell().setObjectName(theme == Theme::dark ? "dark" : "light");
}

void dressed(QObject* owner, const std::function<void()>& dress) {
  dress();
  QObject::connect(&bell(), &QObject::objectNameChanged, owner, dress);
}

QColor faded(QColor colour, int alpha) {
  colour.setAlpha(alpha);
  return colour;
}

QColor written(const QColor& colour) {
  return between(colour, ink(), 0.2);
}

int pixels(int height) {
  static const double share = std::clamp(QFontInfo(QApplication::font()).pixelSize() / 12.0, 0.75, 3.0);
  return std::max(1, static_cast<int>(std::lround(share * height)));
}

QColor groundTint(int index, int count) {
  const Palette& p = palette();
  return between(p.oldest, p.youngest, count < 2 ? 0 : static_cast<double>(index) / (count - 1));
}

QColor depthColour(double depth, double greatest) {
  const double t = std::clamp(std::abs(depth) / std::max(greatest, 1e-9), 0.0, 1.0);
  return between(paper(), depth < 0 ? cut() : fill(), 0.12 + 0.88 * t);
}

QColor worksColour(std::size_t index) {
  static const QColor colours[] = {{0x62, 0x62, 0xDB}, {0xAB, 0xDB, 0x62}, {0xC1, 0x57, 0x81}, {0x62, 0xDB, 0x92},
                                   {0x66, 0x2D, 0x2D}, {0xCE, 0x99, 0xDB}, {0x76, 0x84, 0x3B}, {0x39, 0x2D, 0x66}};
  return colours[index % std::size(colours)];
}

QColor earth() {
  return between(paper(), loam(), 0.65);
}
QColor refilled() {
  return depthColour(0.35, 1);
}
QColor filled() {
  return depthColour(0.75, 1);
}
QColor builtUp() {
  return between(paper(), ink(), 0.9);
}

QColor beyondTolerance(double depth) {
  return depthColour(depth < 0 ? -0.7 : 0.7, 1);
}

namespace {

// Evenly spaced colours, mixed between neighbours.
template <std::size_t N>
QColor onScale(const QColor (&colours)[N], double along) {
  const double place = std::clamp(along, 0.0, 1.0) * (N - 1);
  const auto i = std::min(static_cast<std::size_t>(place), N - 2);
  return between(colours[i], colours[i + 1], place - static_cast<double>(i));
}

}  // namespace

QColor levelColour(double along) {
  static const QColor scale[] = {
      {0x4B, 0x6A, 0x70}, {0x7E, 0x99, 0x86}, {0xB9, 0xB9, 0x8B}, {0xDD, 0xCD, 0xA4}, {0xF6, 0xEF, 0xE1}};
  return onGround(onScale(scale, along));
}

QColor steepnessColour(double along) {
  static const QColor scale[] = {
      {0xF3, 0xEE, 0xDF}, {0xE8, 0xD0, 0x87}, {0xCE, 0x95, 0x45}, {0x93, 0x52, 0x2C}, {0x47, 0x2B, 0x2B}};
  return onGround(onScale(scale, along));
}

QIcon icon(const QString& name) {
  static QHash<QString, QIcon> made[2];
  QHash<QString, QIcon>& kept = made[current() == Theme::dark];
  if (const auto it = kept.constFind(name); it != kept.constEnd()) return *it;
  QIcon result;
  static const QHash<QString, QString> themed{
      {"open", "document-open"}, {"save", "document-save"}, {"undo", "edit-undo"}, {"redo", "edit-redo"}};
  // A desktop in light colours has no icons for dark ones.
  if (current() == Theme::light && themed.contains(name)) result = QIcon::fromTheme(themed[name]);
  if (result.isNull()) {
    for (const int size : {20, 40}) {
      const QByteArray shape = shapesOfWorks().value(name, shapes().value(name));
      result.addPixmap(drawn(shape, ink(), size), QIcon::Normal);
      result.addPixmap(drawn(shape, between(rule(), muted(), 0.3), size), QIcon::Disabled);
    }
  }
  kept.insert(name, result);
  return result;
}

namespace {

// Style sheets take pictures from files only: ours are written once to the cache folder.
QString pictureFile(const char* name, const QByteArray& shape, const QColor& colour) {
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::CacheLocation);
  const QString path = QString("%1/%2-%3.png").arg(folder, name, colour.name().mid(1));
  if (!QFileInfo::exists(path)) {
    QDir().mkpath(folder);
    drawn(shape, colour, 20).save(path);
  }
  return path;
}

}  // namespace

QString styleSheet() {
  const QColor onAmber = paletteOf(Theme::light).ink;
  return QStringLiteral(
             "QMainWindow, QDialog { background: %1; color: %4; }"
             "QWidget { color: %4; font-family: 'DejaVu Sans'; font-size: %9px; }"
             "QMenuBar { background: %2; } QMenuBar::item:selected, QMenu::item:selected { background: %3; color: %4; }"
             "QMenu { background: %1; border: 1px solid %3; } QMenu::item { padding: 4px 24px 4px 12px; }"
             "QMenu::item:disabled { color: %5; } QMenu::separator { height: 1px; background: %3; margin: 3px 8px; }"
             "#stepBar { background: %2; border-bottom: 1px solid %3; }"
             "#columnPanel, #cardPanel { background: %2; }"
             "#columnPanel { border-right: 1px solid %3; } #cardPanel { border-left: 1px solid %3; }"
             "#ledgerBar { background: %2; border-top: 1px solid %3; }"
             "QPushButton, QToolButton { background: transparent; border: 1px solid transparent; border-radius: 3px; "
             "padding: 4px 8px; }"
             "QPushButton { background: %1; border: 1px solid %3; }"
             "QPushButton:hover, QToolButton:hover { background: %1; border-color: %3; }"
             "QPushButton:pressed, QToolButton:pressed { background: %3; }"
             "QPushButton:disabled, QToolButton:disabled, QLineEdit:disabled { color: %11; }"
             "QPushButton:focus, QToolButton:focus, QLineEdit:focus, QComboBox:focus { border-color: %6; }"
             "QToolButton:checked { background: %1; border-color: %6; }"
             "QToolButton[popupMode=\"1\"] { padding-right: 20px; } QToolButton::menu-button { border: none; width: "
             "18px; "
             "background: transparent; } QToolButton::menu-arrow { image: url(%8); width: 10px; height: 10px; }"
             "QToolButton[step=\"true\"] { border-radius: 0; border-bottom: 2px solid transparent; padding: 6px 2px; }"
             "QToolButton[step=\"true\"]:checked { background: transparent; border-color: transparent; border-bottom: "
             "2px solid %6; font-weight: bold; }"
             "QLineEdit, QComboBox, QListWidget, QTableWidget, QTreeWidget { background: %1; border: 1px solid %3; "
             "border-radius: "
             "3px; padding: 3px 5px; selection-background-color: %6; selection-color: %12; }"
             "QLineEdit[wrong=\"true\"] { border-color: %7; }"
             "QComboBox QAbstractItemView { background: %1; selection-background-color: %3; selection-color: %4; }"
             "QComboBox::drop-down { border: none; width: 18px; } QComboBox::down-arrow { image: url(%8); width: 10px; "
             "height: 10px; }"
             "QDialogButtonBox { dialogbuttonbox-buttons-have-icons: 0; } QTableWidget { gridline-color: %3; }"
             "QTreeWidget::item { padding: 4px 10px 4px 2px; } QTreeWidget::item:selected { background: %6; color: "
             "%12; "
             "}"
             "QHeaderView { background: %2; } QTableCornerButton::section { background: %2; border: none; }"
             "QHeaderView::section { background: %2; border: none; border-bottom: 1px solid %3; padding: 4px 6px; }"
             "QLabel[quiet=\"true\"] { color: %5; } QLabel[heading=\"true\"] { font-size: %10px; font-weight: bold; }"
             "QLabel[alarm=\"true\"] { color: %7; }"
             "*[tone=\"strip\"] { color: %13; } *[tone=\"error\"] { color: %7; } *[tone=\"cut\"] { color: %14; } "
             "*[tone=\"fill\"] { color: %15; }"
             "*[tone] { font-weight: bold; } *[tone]:disabled { color: %5; } QFrame[line=\"true\"] { background: %3; }"
             "QCheckBox::indicator, QRadioButton::indicator, QAbstractItemView::indicator { width: 13px; height: 13px; "
             "border: 1px solid %5; background: "
             "%1; } QCheckBox::indicator, QAbstractItemView::indicator { border-radius: 3px; } QRadioButton::indicator "
             "{ border-radius: 7px; }"
             "QCheckBox::indicator:checked, QRadioButton::indicator:checked, QAbstractItemView::indicator:checked { "
             "background: %6; } "
             "QCheckBox::indicator:checked, QAbstractItemView::indicator:checked { image: url(%16); } "
             "QRadioButton::indicator:checked { image: url(%17); }"
             "QCheckBox::indicator:disabled, QRadioButton::indicator:disabled { border-color: %3; }"
             "QCheckBox::indicator:focus, QRadioButton::indicator:focus { border-color: %6; }"
             "#messageStrip { background: %2; border-bottom: 2px solid %6; } #messageStrip[wrong=\"true\"] { "
             "border-bottom-color: %7; }"
             "QToolTip { background: %1; color: %4; border: 1px solid %3; }"
             "QProgressBar { border: 1px solid %3; background: %1; height: 10px; border-radius: 3px; text-align: "
             "center; } "
             "QProgressBar::chunk { background: %6; }")
      .arg(paper().name(), panel().name(), rule().name(), ink().name(), muted().name(), amber().name(), error().name(),
           pictureFile("down", "<path d='M4 7 L10 13 L16 7'/>", muted()), QString::number(pixels(12)),
           QString::number(pixels(14)), between(rule(), muted(), 0.5).name(), onAmber.name(), written(loam()).name(),
           written(cut()).name(), written(fill()).name(),
           pictureFile("check", "<path d='M4 10 L8.5 14.5 L16 5.5'/>", onAmber),
           pictureFile("dot", "<circle cx='10' cy='10' r='3.5'/><circle cx='10' cy='10' r='2'/>", onAmber));
}

QPalette standardPalette() {
  QPalette made;
  for (const auto& [role, colour] :
       {std::pair(QPalette::Window, paper()), std::pair(QPalette::Base, paper()), std::pair(QPalette::Button, panel()),
        std::pair(QPalette::AlternateBase, panel()), std::pair(QPalette::WindowText, ink()),
        std::pair(QPalette::Text, ink()), std::pair(QPalette::ButtonText, ink()),
        std::pair(QPalette::PlaceholderText, muted()), std::pair(QPalette::Highlight, amber()),
        std::pair(QPalette::HighlightedText, paletteOf(Theme::light).ink), std::pair(QPalette::ToolTipBase, paper()),
        std::pair(QPalette::ToolTipText, ink()), std::pair(QPalette::Link, water()),
        std::pair(QPalette::Light, between(panel(), ink(), 0.05)), std::pair(QPalette::Mid, rule()),
        std::pair(QPalette::Dark, between(rule(), muted(), 0.5)), std::pair(QPalette::Shadow, QColor(Qt::black))})
    made.setColor(role, colour);
  for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
    made.setColor(QPalette::Disabled, role, between(rule(), muted(), 0.5));
  return made;
}

namespace {
constexpr auto kSetting = "theme";
}

Theme remembered() {
  const QString chosen = QSettings().value(kSetting).toString();
  if (!chosen.isEmpty()) return chosen == "dark" ? Theme::dark : Theme::light;
  return QApplication::palette().color(QPalette::Window).lightness() < 110 ? Theme::dark : Theme::light;
}

void remember(Theme theme) {
  QSettings().setValue(kSetting, theme == Theme::dark ? "dark" : "light");
}

}  // namespace inselberg::app::theme
