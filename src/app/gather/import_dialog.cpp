#include "gather/import_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFile>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/formats.h"
#include "exchange/oddities.h"
#include "gather/thumbnail.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

constexpr std::array kDelimiters{',', ';', '\t'};
constexpr std::array kUnits{1.0, kMetresPerFoot, kMetresPerSurveyFoot};

QString count(std::size_t n) {
  return QString::fromStdString(formatNumber(static_cast<double>(n), 0));
}

void scale(exchange::Imported& data, double factor) {
  const auto scaled = [&](plane::Vec3& p) { p = {p.x * factor, p.y * factor, p.z * factor}; };
  for (auto& p : data.points) scaled(p);
  for (auto& p : data.modelPoints) scaled(p);
  for (auto& line : data.lines) {
    for (auto& p : line.vertices) scaled(p);
  }
  for (auto& area : data.areas) {
    for (auto& p : area.polygon.outer) p = factor * p;
    for (auto& hole : area.polygon.holes) {
      for (auto& p : hole) p = factor * p;
    }
  }
}

}  // namespace

ImportDialog::ImportDialog(const QString& path, std::optional<plane::Box> site, QWidget* parent)
    : QDialog(parent), path_(path), site_(site) {
  setWindowTitle(tr("Bring in %1").arg(QFileInfo(path).fileName()));
  resize(920, 600);
  auto* layout = new QVBoxLayout(this);
  summary_ = new QLabel(tr("Reading…"), this);
  summary_->setObjectName("importSummary");
  summary_->setProperty("heading", true);
  summary_->setWordWrap(true);
  layout->addWidget(summary_);

  auto* middle = new QHBoxLayout;
  auto* left = new QVBoxLayout;
  rows_ = new QTableWidget(this);
  rows_->setObjectName("importRows");
  rows_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  rows_->setSelectionMode(QAbstractItemView::NoSelection);
  rows_->setMinimumHeight(150);
  rows_->verticalHeader()->setDefaultSectionSize(22);
  left->addWidget(rows_, 1);
  columnBox_ = new QWidget(this);
  auto* grid = new QHBoxLayout(columnBox_);
  grid->setContentsMargins(0, 0, 0, 0);
  const std::array<QString, 5> names{tr("Number"), tr("Easting"), tr("Northing"), tr("Level"), tr("Code")};
  const std::array<const char*, 5> ids{"columnNumber", "columnEasting", "columnNorthing", "columnLevel", "columnCode"};
  for (std::size_t i = 0; i < names.size(); ++i) {
    auto* box = new QVBoxLayout;
    box->setSpacing(2);
    box->addWidget(new QLabel(names[i], this));
    columnOf_[i] = new QComboBox(this);
    columnOf_[i]->setObjectName(ids[i]);
    connect(columnOf_[i], &QComboBox::activated, this, &ImportDialog::read);
    box->addWidget(columnOf_[i]);
    grid->addLayout(box, 1);
  }
  left->addWidget(columnBox_);
  auto* options = new QHBoxLayout;
  delimiter_ = new QComboBox(this);
  for (const QString& d : {tr("comma"), tr("semicolon"), tr("tab")})
    delimiter_->addItem(tr("Cells parted by %1").arg(d));
  header_ = new QCheckBox(tr("First row names the columns"), this);
  units_ = new QComboBox(this);
  units_->setObjectName("importUnits");
  for (const QString& u : {tr("Metres"), tr("Feet (0.3048 m)"), tr("US survey feet")}) units_->addItem(u);
  options->addWidget(delimiter_);
  options->addWidget(header_);
  options->addStretch(1);
  options->addWidget(new QLabel(tr("Unit of the file"), this));
  options->addWidget(units_);
  left->addLayout(options);
  auto* takes = new QHBoxLayout;
  takePoints_ = new QCheckBox(this);
  takeLines_ = new QCheckBox(this);
  takeAreas_ = new QCheckBox(this);
  for (QCheckBox* box : {takePoints_, takeLines_, takeAreas_}) {
    box->setChecked(true);
    takes->addWidget(box);
    connect(box, &QCheckBox::toggled, this, &ImportDialog::showChoice);
  }
  takes->addStretch(1);
  left->addLayout(takes);
  middle->addLayout(left, 3);
  thumbnail_ = new Thumbnail(this);
  middle->addWidget(thumbnail_, 2);
  layout->addLayout(middle, 1);

  layout->addWidget(new QLabel(tr("What looks wrong"), this));
  wrong_ = new QListWidget(this);
  wrong_->setObjectName("importWrong");
  wrong_->setFixedHeight(96);
  wrong_->setWordWrap(true);
  layout->addWidget(wrong_);
  buttons_ = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
  auto* take = buttons_->addButton(tr("Bring in"), QDialogButtonBox::AcceptRole);
  take->setObjectName("importAccept");
  take->setDefault(true);
  take->setEnabled(false);
  layout->addWidget(buttons_);
  connect(buttons_, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons_, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(units_, &QComboBox::activated, this, &ImportDialog::read);
  connect(delimiter_, &QComboBox::activated, this, [this] {
    setUpColumns();
    read();
  });
  connect(header_, &QCheckBox::clicked, this, &ImportDialog::read);

  try {
    isPoints_ = exchange::formatOf(path.toStdString()) == exchange::Format::points;
    if (isPoints_) {
      QFile file(path);
      if (file.open(QIODevice::ReadOnly)) head_ = file.read(65536).toStdString();
      if (head_.starts_with("\xef\xbb\xbf")) head_.erase(0, 3);
      const char guessed = exchange::guessDelimiter(head_);
      for (std::size_t i = 0; i < kDelimiters.size(); ++i) {
        if (kDelimiters[i] == guessed) delimiter_->setCurrentIndex(static_cast<int>(i));
      }
      if (const auto guess = exchange::guessColumns(head_)) header_->setChecked(guess->header);
      setUpColumns();
    }
  } catch (const Error& e) {
    fail(QString::fromUtf8(e.what()));
    return;
  }
  for (QWidget* w : std::initializer_list<QWidget*>{rows_, columnBox_, delimiter_, header_}) w->setVisible(isPoints_);
  if (!isPoints_) left->insertStretch(0, 1);
  read();
}

ImportDialog::~ImportDialog() = default;

// The first rows as cells, and the columns guessed from them.
void ImportDialog::setUpColumns() {
  const char delimiter = kDelimiters[static_cast<std::size_t>(delimiter_->currentIndex())];
  const auto rows = exchange::firstRows(head_, delimiter, 12);
  std::size_t width = 0;
  for (const auto& row : rows) width = std::max(width, row.size());
  rows_->setRowCount(static_cast<int>(rows.size()));
  rows_->setColumnCount(static_cast<int>(width));
  for (int r = 0; r < rows_->rowCount(); ++r) {
    for (int c = 0; c < static_cast<int>(rows[static_cast<std::size_t>(r)].size()); ++c) {
      rows_->setItem(
          r, c,
          new QTableWidgetItem(QString::fromStdString(rows[static_cast<std::size_t>(r)][static_cast<std::size_t>(c)])));
    }
  }
  rows_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  rows_->horizontalHeader()->setStretchLastSection(true);
  auto guess = exchange::guessColumns(head_).value_or(exchange::PointColumns{});
  if (guess.delimiter != delimiter) guess = {};
  const std::array guessed{guess.number, guess.easting, guess.northing, guess.level, guess.code};
  for (std::size_t i = 0; i < columnOf_.size(); ++i) {
    columnOf_[i]->clear();
    columnOf_[i]->addItem(tr("none"));
    for (std::size_t c = 0; c < width; ++c) columnOf_[i]->addItem(tr("column %1").arg(c + 1));
    columnOf_[i]->setCurrentIndex(std::min(guessed[i], static_cast<int>(width) - 1) + 1);
  }
}

exchange::PointColumns ImportDialog::columns() const {
  exchange::PointColumns c;
  const std::array slots_{&c.number, &c.easting, &c.northing, &c.level, &c.code};
  for (std::size_t i = 0; i < slots_.size(); ++i) *slots_[i] = columnOf_[i]->currentIndex() - 1;
  c.delimiter = kDelimiters[static_cast<std::size_t>(delimiter_->currentIndex())];
  c.header = header_->isChecked();
  return c;
}

void ImportDialog::read() {
  ready_ = false;
  buttons_->button(QDialogButtonBox::Cancel)->setFocus();
  findChild<QPushButton*>("importAccept")->setEnabled(false);
  const double unit = kUnits[static_cast<std::size_t>(units_->currentIndex())];
  std::optional<exchange::PointColumns> use;
  if (isPoints_) {
    use = columns();
    QStringList names;
    for (int c = 0; c < rows_->columnCount(); ++c) {
      QString name = tr("column %1").arg(c + 1);
      const std::vector<std::pair<int, QString>> meanings{{use->number, tr("number")},
                                                          {use->easting, tr("easting")},
                                                          {use->northing, tr("northing")},
                                                          {use->level, tr("level")},
                                                          {use->code, tr("code")}};
      for (const auto& [index, meaning] : meanings) {
        if (index == c) name = meaning;
      }
      names << name;
    }
    rows_->setHorizontalHeaderLabels(names);
    if (use->easting < 0 || use->northing < 0 || use->level < 0) {
      fail(tr("Say which columns hold easting, northing and level."));
      return;
    }
  }
  summary_->setText(tr("Reading…"));
  worker_.post([this, path = path_.toStdString(), use, unit, number = ++asked_](const Worker::Token& token) {
    const Progress progress([&] { return token.superseded(); });  // closing the dialog stops it too
    try {
      exchange::Imported found =
          use ? exchange::readPoints(path, use, unit, progress) : exchange::readAny(path, progress);
      if (!use && unit != 1) scale(found, unit);
      QMetaObject::invokeMethod(
          this,
          [this, number, found = std::move(found)]() mutable {
            if (number == asked_) show(std::move(found));
          },
          Qt::QueuedConnection);
    } catch (const Cancelled&) {
    } catch (const std::exception& e) {
      QMetaObject::invokeMethod(
          this,
          [this, number, text = QString::fromUtf8(e.what())] {
            if (number == asked_) fail(text);
          },
          Qt::QueuedConnection);
    }
  });
}

void ImportDialog::fail(const QString& text) {
  summary_->setText(tr("This cannot be brought in"));
  wrong_->clear();
  auto* item = new QListWidgetItem(text, wrong_);
  item->setForeground(theme::error);
  read_ = chosen_ = {};
  thumbnail_->setData(&chosen_);
  ready_ = true;
}

void ImportDialog::show(exchange::Imported imported) {
  read_ = std::move(imported);
  takePoints_->setText(read_.modelTriangles.empty()
                           ? tr("%1 points").arg(count(read_.points.size()))
                           : tr("%1 faces, kept as they are").arg(count(read_.modelTriangles.size())));
  takeLines_->setText(tr("%1 lines as breaklines").arg(count(read_.lines.size())));
  takeAreas_->setText(tr("%1 areas as boundary").arg(count(read_.areas.size())));
  takePoints_->setVisible(!read_.points.empty() || !read_.modelTriangles.empty());
  takeLines_->setVisible(!read_.lines.empty());
  takeAreas_->setVisible(!read_.areas.empty());
  units_->setEnabled(read_.format != "LandXML");
  wrong_->clear();
  for (const auto& p : read_.problems) {
    auto* item = new QListWidgetItem(tr("Line %1: %2; left out. To keep it, %3.")
                                         .arg(p.line)
                                         .arg(QString::fromStdString(p.what), QString::fromStdString(p.hint)),
                                     wrong_);
    item->setForeground(theme::error);
    if (wrong_->count() == 200) break;
  }
  for (const std::string& text : exchange::oddities(read_, site_))
    new QListWidgetItem(QString::fromStdString(text), wrong_);
  for (const std::string& text : read_.remarks) new QListWidgetItem(QString::fromStdString(text), wrong_);
  if (wrong_->count() == 0) new QListWidgetItem(tr("Nothing."), wrong_);
  showChoice();
  ready_ = true;
}

void ImportDialog::showChoice() {
  chosen_ = read_;
  if (!takePoints_->isChecked()) {
    chosen_.points.clear();
    chosen_.codes.clear();
    chosen_.numbers.clear();
    chosen_.modelPoints.clear();
    chosen_.modelTriangles.clear();
  }
  if (!takeLines_->isChecked()) chosen_.lines.clear();
  if (!takeAreas_->isChecked()) chosen_.areas.clear();
  const bool something = !chosen_.bounds().empty();
  auto* take = findChild<QPushButton*>("importAccept");
  take->setEnabled(something);
  if (something) take->setFocus();
  QStringList what;
  if (!chosen_.modelTriangles.empty())
    what << tr("a ground model of %1 faces").arg(count(chosen_.modelTriangles.size()));
  if (!chosen_.points.empty()) what << tr("%1 points").arg(count(chosen_.points.size()));
  if (!chosen_.lines.empty()) what << tr("%1 breaklines").arg(count(chosen_.lines.size()));
  if (!chosen_.areas.empty()) what << tr("%1 boundaries").arg(count(chosen_.areas.size()));
  QString text = something ? tr("Comes in: %1").arg(what.join(", ")) : tr("There is nothing to bring in");
  if (!read_.problems.empty()) text += tr("; %1 rows left out").arg(count(read_.problems.size()));
  summary_->setText(text);
  thumbnail_->setData(&chosen_);
}

}  // namespace inselberg::app
