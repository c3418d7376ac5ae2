#include "gather/import_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QListWidget>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QTableWidget>
#include <QVBoxLayout>

#include "base/error.h"
#include "base/quantity.h"
#include "exchange/coordinate_system.h"
#include "exchange/formats.h"
#include "exchange/oddities.h"
#include "gather/system_dialog.h"
#include "gather/thumbnail.h"
#include "theme/theme.h"
#include "workspace/lengths.h"

namespace inselberg::app {
namespace {

using exchange::Take;

constexpr std::array kDelimiters{',', ';', '\t', '|', ' '};
constexpr std::array kUnits{"", "m", "ft", "us-ft"};
// What a layer may be taken as, in the order of the list.
constexpr std::array kTakes{Take::skip,     Take::points, Take::breaklines, Take::contours,
                            Take::boundary, Take::voids,  Take::works};
constexpr int kTakeColumn = 7;

QString count(std::size_t n) {
  return QString::fromStdString(formatNumber(static_cast<double>(n), 0));
}

QString nameOf(Take take) {
  switch (take) {
    case Take::skip:
      return QObject::tr("left out");
    case Take::points:
      return QObject::tr("points");
    case Take::breaklines:
      return QObject::tr("breaklines");
    case Take::contours:
      return QObject::tr("contours");
    case Take::boundary:
      return QObject::tr("boundary");
    case Take::voids:
      return QObject::tr("voids");
    case Take::works:
      return QObject::tr("works outlines");
    case Take::faces:
      return QObject::tr("a ground model");
  }
  return {};
}

}  // namespace

ImportDialog::ImportDialog(const QString& path, ImportContext context, QWidget* parent)
    : QDialog(parent), path_(path), context_(std::move(context)), worker_([this](const std::string& why) {
        QMetaObject::invokeMethod(
            this, [this, text = QString::fromUtf8(why.c_str())] { fail(text); }, Qt::QueuedConnection);
      }) {
  setWindowTitle(tr("Bring in %1").arg(QFileInfo(path).fileName()));
  resize(980, 640);
  auto* layout = new QVBoxLayout(this);
  summary_ = new QLabel(tr("Reading…"), this);
  summary_->setObjectName("importSummary");
  summary_->setProperty("heading", true);
  summary_->setWordWrap(true);
  layout->addWidget(summary_);

  auto* middle = new QHBoxLayout;
  auto* left = new QVBoxLayout;
  makeTable(*left);
  makeLayers(*left);
  makeOptions(*left);
  middle->addLayout(left, 5);
  thumbnail_ = new Thumbnail(this);
  connect(thumbnail_, &Thumbnail::outlined, this, &ImportDialog::limitToDrawn);
  middle->addWidget(thumbnail_, 3);
  layout->addLayout(middle, 1);
  makeEnd(*layout);
  connectChoices();
  readAsBefore();
  showSystem();
  begin();
}

void ImportDialog::makeTable(QVBoxLayout& left) {
  rows_ = new QTableWidget(this);
  rows_->setObjectName("importRows");
  rows_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  rows_->setSelectionMode(QAbstractItemView::NoSelection);
  rows_->setMinimumHeight(130);
  rows_->verticalHeader()->setDefaultSectionSize(22);
  left.addWidget(rows_, 3);
  columnBox_ = new QWidget(this);
  auto* columnRows = new QVBoxLayout(columnBox_);
  columnRows->setContentsMargins(0, 0, 0, 0);
  auto* grid = new QHBoxLayout;
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
  auto* turn = new QPushButton(tr("E ↔ N"), this);
  turn->setObjectName("exchangeColumns");
  turn->setToolTip(tr("Exchange easting and northing"));
  connect(turn, &QPushButton::clicked, this, &ImportDialog::exchangeColumns);
  grid->addWidget(turn, 0, Qt::AlignBottom);
  columnRows->addLayout(grid);
  auto* form = new QHBoxLayout;
  delimiter_ = new QComboBox(this);
  delimiter_->setObjectName("importDelimiter");
  for (const QString& d : {tr("comma"), tr("semicolon"), tr("tab"), tr("bar"), tr("blanks")})
    delimiter_->addItem(tr("Cells parted by %1").arg(d));
  delimiter_->addItem(tr("Fixed columns"));
  decimal_ = new QComboBox(this);
  decimal_->setObjectName("importDecimal");
  decimal_->addItem(tr("Decimal point"));
  decimal_->addItem(tr("Decimal comma"));
  header_ = new QCheckBox(tr("First row names the columns"), this);
  form->addWidget(delimiter_);
  form->addWidget(decimal_);
  form->addWidget(header_);
  form->addStretch(1);
  columnRows->addLayout(form);
  left.addWidget(columnBox_);
}

void ImportDialog::makeLayers(QVBoxLayout& left) {
  layers_ = new QTableWidget(0, 8, this);
  layers_->setObjectName("importLayers");
  layers_->setHorizontalHeaderLabels(
      {tr("Layer"), tr("Points"), tr("Lines"), tr("Areas"), tr("Faces"), tr("Lowest"), tr("Highest"), tr("Taken as")});
  layers_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  layers_->setSelectionBehavior(QAbstractItemView::SelectRows);
  layers_->verticalHeader()->hide();
  layers_->verticalHeader()->setDefaultSectionSize(26);
  layers_->setMinimumHeight(90);
  connect(layers_, &QTableWidget::itemSelectionChanged, this, &ImportDialog::showChoice);
  left.addWidget(layers_, 4);
}

void ImportDialog::makeOptions(QVBoxLayout& left) {
  auto* options = new QHBoxLayout;
  options->addWidget(new QLabel(tr("Unit"), this));
  units_ = new QComboBox(this);
  units_->setObjectName("importUnits");
  for (const QString& u : {tr("as the file says"), tr("metres"), tr("feet (0.3048 m)"), tr("US survey feet")})
    units_->addItem(u);
  options->addWidget(units_);
  toleranceBox_ = new QWidget(this);
  auto* toleranceRow = new QHBoxLayout(toleranceBox_);
  toleranceRow->setContentsMargins(8, 0, 0, 0);
  toleranceRow->addWidget(new QLabel(tr("Keep levels within"), this));
  tolerance_ = new QDoubleSpinBox(this);
  tolerance_->setObjectName("importTolerance");
  tolerance_->setRange(lengths::inUnit(0.001), lengths::inUnit(10));
  tolerance_->setDecimals(3);
  tolerance_->setSingleStep(0.01);
  tolerance_->setValue(lengths::inUnit(exchange::TakeRules{}.tolerance));
  tolerance_->setSuffix(" " + lengths::unit());
  tolerance_->setToolTip(
      tr("A raster or a dense cloud becomes the fewest triangles that stay this near to every one of its levels"));
  toleranceRow->addWidget(tolerance_);
  options->addWidget(toleranceBox_);
  attributeBox_ = new QWidget(this);
  auto* attributeRow = new QHBoxLayout(attributeBox_);
  attributeRow->setContentsMargins(8, 0, 0, 0);
  attributeRow->addWidget(new QLabel(tr("Levels from"), this));
  attribute_ = new QComboBox(this);
  attribute_->setObjectName("importAttribute");
  attribute_->setToolTip(tr("The attribute that holds levels, whatever the shapes say"));
  attributeRow->addWidget(attribute_);
  attributeBox_->hide();
  options->addWidget(attributeBox_);
  options->addStretch(1);
  limit_ = new QComboBox(this);
  limit_->setObjectName("importLimit");
  limit_->addItem(tr("The whole file"));
  for (const ImportLimit& limit : context_.limits) limit_->addItem(tr("Only inside %1").arg(limit.name));
  limit_->setVisible(limit_->count() > 1);
  options->addWidget(limit_);
  left.addLayout(options);
  makePlaces(left);
}

void ImportDialog::makePlaces(QVBoxLayout& left) {
  auto* places = new QHBoxLayout;
  places->addWidget(new QLabel(tr("Coordinates"), this));
  system_ = new QComboBox(this);
  system_->setObjectName("importSystem");
  system_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  system_->setToolTip(tr("The coordinate system the file is in; where the project has another, the file is moved"));
  places->addWidget(system_, 1);
  target_ = new QPushButton(tr("Move into…"), this);
  target_->setObjectName("importTarget");
  target_->setToolTip(tr("Choose the project's coordinate system"));
  target_->hide();
  places->addWidget(target_);
  left.addLayout(places);
}

void ImportDialog::makeEnd(QVBoxLayout& layout) {
  layout.addWidget(new QLabel(tr("What looks wrong"), this));
  wrong_ = new QListWidget(this);
  wrong_->setObjectName("importWrong");
  wrong_->setFixedHeight(96);
  wrong_->setWordWrap(true);
  layout.addWidget(wrong_);
  auto* last = new QHBoxLayout;
  replace_ = new QCheckBox(tr("Replace what came from this file before"), this);
  replace_->setObjectName("importReplace");
  replace_->setChecked(context_.cameBefore);
  replace_->setVisible(context_.cameBefore);
  last->addWidget(replace_);
  progress_ = new QProgressBar(this);
  progress_->setRange(0, 1000);
  progress_->setMaximumWidth(260);
  progress_->hide();
  last->addWidget(progress_);
  last->addStretch(1);
  buttons_ = new QDialogButtonBox(QDialogButtonBox::Cancel, this);
  auto* take = buttons_->addButton(tr("Bring in"), QDialogButtonBox::AcceptRole);
  take->setObjectName("importAccept");
  take->setDefault(true);
  take->setEnabled(false);
  last->addWidget(buttons_);
  layout.addLayout(last);
}

void ImportDialog::connectChoices() {
  connect(buttons_, &QDialogButtonBox::accepted, this, &ImportDialog::bringIn);
  connect(buttons_, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(units_, &QComboBox::activated, this, &ImportDialog::read);
  connect(limit_, &QComboBox::activated, this, &ImportDialog::read);
  connect(attribute_, &QComboBox::activated, this, &ImportDialog::read);
  connect(system_, &QComboBox::activated, this, &ImportDialog::chooseFileSystem);
  connect(target_, &QPushButton::clicked, this, [this] {
    const auto chosen = SystemDialog::choose(
        SystemDialog::Of::project, tr("The coordinate system of the project. The file's degrees are moved into it."),
        context_.system, read_->bounds().centre(), this);
    if (!chosen) return;
    context_.system = *chosen;
    limit_->setCurrentIndex(0);
    read();
  });
  connect(delimiter_, &QComboBox::activated, this, [this] {
    setUpColumns(false);
    read();
  });
  connect(decimal_, &QComboBox::activated, this, &ImportDialog::read);
  connect(header_, &QCheckBox::clicked, this, &ImportDialog::read);
}

void ImportDialog::begin() {
  try {
    isPoints_ = exchange::formatOf(path_.toStdString()) == exchange::Format::points;
    if (isPoints_) {
      QFile file(path_);
      if (file.open(QIODevice::ReadOnly)) head_ = file.read(65536).toStdString();
      if (head_.starts_with("\xef\xbb\xbf")) head_.erase(0, 3);
      const exchange::TableForm guessed = exchange::guessForm(head_);
      for (std::size_t i = 0; i < kDelimiters.size(); ++i) {
        if (kDelimiters[i] == guessed.delimiter) delimiter_->setCurrentIndex(static_cast<int>(i));
      }
      if (!guessed.starts.empty()) delimiter_->setCurrentIndex(static_cast<int>(kDelimiters.size()));
      decimal_->setCurrentIndex(guessed.decimal == ',' ? 1 : 0);
      if (const auto guess = exchange::guessColumns(head_)) header_->setChecked(guess->header);
      setUpColumns(true);
    }
  } catch (const Error& e) {
    fail(QString::fromUtf8(e.what()));
    return;
  }
  rows_->setVisible(isPoints_);
  columnBox_->setVisible(isPoints_);
  if (isPoints_) layers_->setMaximumHeight(92);  // one layer
  read();
}

ImportDialog::~ImportDialog() = default;

exchange::TableForm ImportDialog::form() const {
  exchange::TableForm form;
  const auto chosen = static_cast<std::size_t>(delimiter_->currentIndex());
  form.decimal = decimal_->currentIndex() == 1 ? ',' : '.';
  if (chosen < kDelimiters.size()) {
    form.delimiter = kDelimiters[chosen];
    return form;
  }
  form.delimiter = ' ';
  form.starts = exchange::fixedColumns(head_);
  return form;
}

// Columns once chosen for a header are chosen again for the same header.
QString ImportDialog::memoryKey() const {
  const std::string first = head_.substr(0, head_.find_first_of("\r\n"));
  if (!header_->isChecked() || first.size() > 300) return {};
  return "columns/" + QString::fromLatin1(QByteArray::fromStdString(first).toHex());
}

// The first rows as cells, and the columns guessed from them or remembered.
void ImportDialog::setUpColumns(bool fromMemory) {
  const exchange::TableForm parted = form();
  const auto rows = exchange::firstRows(head_, parted, 12);
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
  const auto guess = guessed_ = exchange::guessColumns(head_, parted).value_or(exchange::PointColumns{});
  std::array guessed{guess.number, guess.easting, guess.northing, guess.level, guess.code};
  if (const QString key = memoryKey(); fromMemory && !key.isEmpty()) {
    const QVariantList kept = QSettings().value(key).toList();
    for (std::size_t i = 0; static_cast<std::size_t>(kept.size()) == guessed.size() && i < guessed.size(); ++i)
      guessed[i] = kept[static_cast<qsizetype>(i)].toInt();
  }
  for (std::size_t i = 0; i < columnOf_.size(); ++i) {
    columnOf_[i]->clear();
    columnOf_[i]->addItem(tr("none"));
    for (std::size_t c = 0; c < width; ++c) columnOf_[i]->addItem(tr("column %1").arg(c + 1));
    columnOf_[i]->setCurrentIndex(std::min(guessed[i], static_cast<int>(width) - 1) + 1);
  }
}

exchange::PointColumns ImportDialog::columns() const {
  exchange::PointColumns c;
  const std::array places{&c.number, &c.easting, &c.northing, &c.level, &c.code};
  for (std::size_t i = 0; i < places.size(); ++i) *places[i] = columnOf_[i]->currentIndex() - 1;
  c.form = form();
  c.header = header_->isChecked();
  c.degrees = guessed_.degrees && c.header && c.easting == guessed_.easting && c.northing == guessed_.northing;
  return c;
}

void ImportDialog::exchangeColumns() {
  const int easting = columnOf_[1]->currentIndex();
  columnOf_[1]->setCurrentIndex(columnOf_[2]->currentIndex());
  columnOf_[2]->setCurrentIndex(easting);
  read();
}

template <class Work>
void ImportDialog::inWindow(int number, Work&& work) {
  QMetaObject::invokeMethod(
      this,
      [this, number, work = std::forward<Work>(work)]() mutable {
        if (number == asked_) work();
      },
      Qt::QueuedConnection);
}

void ImportDialog::lockChoices(bool locked) {
  for (QWidget* w : std::initializer_list<QWidget*>{columnBox_, layers_, units_, limit_, toleranceBox_, attributeBox_,
                                                    system_, target_, thumbnail_})
    w->setEnabled(!locked);
}

void ImportDialog::busy(const QString& text) {
  ready_ = false;
  summary_->setText(text);
  progress_->setValue(0);
  progress_->show();
  buttons_->button(QDialogButtonBox::Cancel)->setFocus();
  findChild<QPushButton*>("importAccept")->setEnabled(false);
}

exchange::ReadRules ImportDialog::rules() const {
  exchange::ReadRules rules;
  rules.units = kUnits[static_cast<std::size_t>(units_->currentIndex())];
  rules.system = fileSystem_;
  rules.target = context_.system;
  if (attribute_->currentIndex() > 0) rules.levelField = attribute_->currentText().toStdString();
  if (isPoints_) rules.columns = columns();
  return rules;
}

void ImportDialog::read() {
  const exchange::ReadRules rules = this->rules();
  if (const auto& use = rules.columns) {
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
  busy(tr("Reading…"));
  std::optional<plane::Polygon> inside;
  if (const plane::Polygon* limit = chosenLimit()) inside = *limit;
  worker_.post([this, path = path_.toStdString(), site = context_.site, rules, inside,
                number = ++asked_](const Worker::Token& token) {
    const auto later = [this, number](auto&& work) { inWindow(number, std::forward<decltype(work)>(work)); };
    // Closing the dialog stops it too.
    const Progress progress([&] { return token.superseded(); },
                            [&](std::string_view, double done) {
                              later([this, done] { progress_->setValue(static_cast<int>(1000 * done)); });
                            });
    try {
      exchange::Imported found = exchange::readAny(path, rules, progress);
      if (inside) exchange::limitTo(found, *inside);
      Found all{{}, exchange::summaries(found), exchange::oddities(found, site)};
      all.imported = std::move(found);
      later([this, all = std::move(all)]() mutable { show(std::move(all)); });
    } catch (const std::exception& e) {
      later([this, text = QString::fromUtf8(e.what())] { fail(text); });
    }
  });
}

void ImportDialog::fail(const QString& text) {
  progress_->hide();
  summary_->setText(tr("This cannot be brought in"));
  wrong_->clear();
  auto* item = new QListWidgetItem(text, wrong_);
  item->setForeground(theme::error());
  findChild<QPushButton*>("importAccept")->setEnabled(false);
  read_ = std::make_shared<exchange::Imported>();
  layers_->setRowCount(0);
  thumbnail_->setData(nullptr, {}, -1);
  ready_ = true;
}

void ImportDialog::show(Found found) {
  progress_->hide();
  const bool same = found.imported.layers == read_->layers && !remembered_.empty();
  read_ = std::make_shared<exchange::Imported>(std::move(found.imported));
  if (!same) {
    remembered_.clear();
    for (const exchange::LayerSummary& s : found.layers) remembered_.push_back(s.guess);
    for (std::size_t i = 0; i < remembered_.size(); ++i) {
      for (const auto& [layer, word] : context_.before) {
        if (layer == read_->layers[i]) remembered_[i] = exchange::takeOf(word).value_or(remembered_[i]);
      }
    }
  }
  const auto system = read_->system.empty() ? std::nullopt : exchange::coordinateSystem(read_->system);
  degrees_ = system && system->degrees;
  target_->setVisible(degrees_);
  if (system && !degrees_ && context_.system.empty() && context_.origin)
    read_->remarks.push_back(
        tr("The file is in %1. The project has no coordinate system: the numbers stay as they are.")
            .arg(QString::fromStdString(system->text()))
            .toStdString());
  if (system && !degrees_ && context_.system.empty() && !context_.origin)
    read_->remarks.push_back(tr("The project takes the file's coordinate system, %1.")
                                 .arg(QString::fromStdString(system->text()))
                                 .toStdString());
  showLayers(found.layers);
  showSystem();
  showAttributes();
  units_->setEnabled(read_->format != "LandXML");
  toleranceBox_->setVisible(!read_->rasters.empty() || read_->points.size() > exchange::TakeRules{}.cloud);
  wrong_->clear();
  for (const auto& p : read_->problems) {
    auto* item = new QListWidgetItem(tr("Line %1: %2; left out. To keep it, %3.")
                                         .arg(p.line)
                                         .arg(QString::fromStdString(p.what), QString::fromStdString(p.hint)),
                                     wrong_);
    item->setForeground(theme::error());
    if (wrong_->count() == 200) break;
  }
  for (const std::string& text : found.oddities) new QListWidgetItem(QString::fromStdString(text), wrong_);
  for (const std::string& text : read_->remarks) new QListWidgetItem(QString::fromStdString(text), wrong_);
  if (wrong_->count() == 0) new QListWidgetItem(tr("Nothing."), wrong_);
  ready_ = true;
  showChoice();
}

void ImportDialog::showLayers(const std::vector<exchange::LayerSummary>& list) {
  const QSignalBlocker quiet(layers_);
  layers_->setRowCount(0);
  layers_->setRowCount(static_cast<int>(list.size()));
  for (int row = 0; row < layers_->rowCount(); ++row) {
    const auto& s = list[static_cast<std::size_t>(row)];
    const auto put = [&](int column, const QString& text) {
      auto* item = new QTableWidgetItem(text);
      item->setTextAlignment(Qt::AlignVCenter | (column == 0 ? Qt::AlignLeft : Qt::AlignRight));
      if (column == 0) item->setToolTip(text);
      layers_->setItem(row, column, item);
    };
    const auto number = [](std::size_t n) { return n ? count(n) : QString("–"); };
    const auto level = [](const std::optional<double>& z) {
      return z ? QString::fromStdString(formatNumber(*z, 2)) : QString("–");
    };
    put(0, QString::fromStdString(s.name));
    put(1, number(s.points)), put(2, number(s.lines)), put(3, number(s.areas)), put(4, number(s.faces));
    put(5, level(s.minLevel)), put(6, level(s.maxLevel));
    auto* take = new QComboBox(layers_);
    const bool surface = s.guess == Take::faces || s.faces > 0;
    for (const Take t : kTakes) {
      if (!surface || t == Take::skip) take->addItem(nameOf(t), static_cast<int>(t));
    }
    if (surface) take->addItem(nameOf(Take::faces), static_cast<int>(Take::faces));
    take->setCurrentIndex(std::max(0, take->findData(static_cast<int>(remembered_[static_cast<std::size_t>(row)]))));
    connect(take, &QComboBox::activated, this, [this, row, take] {
      remembered_[static_cast<std::size_t>(row)] = static_cast<Take>(take->currentData().toInt());
      showChoice();
    });
    layers_->setCellWidget(row, kTakeColumn, take);
  }
  layers_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  layers_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  layers_->horizontalHeader()->setSectionResizeMode(kTakeColumn, QHeaderView::Fixed);
  layers_->setColumnWidth(kTakeColumn, 124);
}

exchange::Choices ImportDialog::reading() const {
  return exchange::readingOf(rules(), chosenLimit());
}

// The choices of the last time this file came in.
void ImportDialog::readAsBefore() {
  for (const auto& [what, choice] : context_.reading) {
    if (what == "units") {
      for (std::size_t i = 0; i < kUnits.size(); ++i) {
        if (choice == kUnits[i]) units_->setCurrentIndex(static_cast<int>(i));
      }
    } else if (what == "system") {
      fileSystem_ = choice;
    } else if (what == "levels") {
      attribute_->addItem(tr("the shapes"));
      attribute_->addItem(QString::fromStdString(choice));
      attribute_->setCurrentIndex(1);
    } else if (what == "limit") {
      plane::Polygon limit;
      for (const QString& corner : QString::fromStdString(choice).split(", ")) {
        const QStringList place = corner.split(' ');
        if (place.size() == 2) limit.outer.push_back({place[0].toDouble(), place[1].toDouble()});
      }
      if (limit.outer.size() < 3) continue;
      drawn_ = std::move(limit);
      limit_->addItem(tr("Only inside the limit of last time"));
      limit_->setCurrentIndex(limit_->count() - 1);
      limit_->show();
    }
  }
}

const plane::Polygon* ImportDialog::chosenLimit() const {
  const auto chosen = static_cast<std::size_t>(std::max(0, limit_->currentIndex()));
  if (chosen == 0) return nullptr;
  return chosen <= context_.limits.size() ? &context_.limits[chosen - 1].polygon : &*drawn_;
}

std::string ImportDialog::system() const {
  return context_.system.empty() && !context_.origin ? read_->system : context_.system;
}

void ImportDialog::showSystem() {
  const QSignalBlocker quiet(system_);
  system_->clear();
  const auto own = read_->ownSystem.empty() ? std::nullopt : exchange::coordinateSystem(read_->ownSystem);
  system_->addItem(own ? tr("%1, as the file says").arg(QString::fromStdString(own->text()))
                       : tr("The file does not say"));
  if (!fileSystem_.empty()) {
    const auto chosen = exchange::coordinateSystem(fileSystem_);
    system_->addItem(chosen ? QString::fromStdString(chosen->text()) : QString());
    system_->setCurrentIndex(1);
  }
  system_->addItem(tr("Another…"));
}

void ImportDialog::showAttributes() {
  const QSignalBlocker quiet(attribute_);
  const QString chosen = attribute_->currentIndex() > 0 ? attribute_->currentText() : QString();
  attribute_->clear();
  attribute_->addItem(tr("the shapes"));
  for (const std::string& name : read_->attributes) attribute_->addItem(QString::fromStdString(name));
  attribute_->setCurrentIndex(chosen.isEmpty() ? 0 : std::max(0, attribute_->findText(chosen)));
  attributeBox_->setVisible(attribute_->count() > 1);
}

void ImportDialog::limitToDrawn(const plane::Polygon& polygon) {
  try {
    drawn_ = plane::sound(polygon, {});
  } catch (const Error& e) {
    wrong_->insertItem(0, tr("The outline drawn on the picture cannot be used: %1").arg(QString::fromUtf8(e.what())));
    wrong_->scrollToTop();
    return;
  }
  const int index = static_cast<int>(context_.limits.size()) + 1;
  if (limit_->count() == index) limit_->addItem({});
  limit_->setItemText(index, tr("Only inside what is drawn"));
  limit_->setCurrentIndex(index);
  limit_->show();
  read();
}

void ImportDialog::chooseFileSystem() {
  if (system_->currentIndex() == 0) {
    fileSystem_.clear();
  } else if (system_->currentIndex() == system_->count() - 1) {
    if (const auto chosen = SystemDialog::choose(SystemDialog::Of::file, tr("The coordinate system the file is in."),
                                                 fileSystem_, {}, this))
      fileSystem_ = *chosen;
  } else {
    return;
  }
  showSystem();
  limit_->setCurrentIndex(0);  // a limit in other numbers is none
  read();
}

exchange::BroughtIn ImportDialog::chosen() {
  exchange::BroughtIn file =
      exchange::broughtIn(*read_, remembered_, std::move(taken_), reading(), {origin_, system()});
  file.file = path_.toStdString();
  file.again = replace_->isChecked();
  return file;
}

void ImportDialog::showChoice() {
  if (!ready_) return;
  const QString what = QString::fromStdString(exchange::comesIn(*read_, remembered_));
  QString text = what.isEmpty() ? tr("There is nothing to bring in") : tr("Comes in: %1").arg(what);
  if (!read_->problems.empty()) text += tr("; %1 rows left out").arg(count(read_->problems.size()));
  summary_->setText(degrees_ ? tr("The file is in degrees: choose what it is moved into") : text);
  auto* take = findChild<QPushButton*>("importAccept");
  take->setEnabled(!what.isEmpty() && !degrees_);
  if (!what.isEmpty()) (degrees_ ? target_ : take)->setFocus();
  const auto marked = layers_->selectionModel()->selectedRows();
  thumbnail_->setData(read_, remembered_, marked.isEmpty() || layers_->rowCount() < 2 ? -1 : marked.front().row());
}

// Turns what was read into sources, which takes its time for rasters and clouds, then closes.
void ImportDialog::bringIn() {
  if (!ready_) return;
  const QString summary = summary_->text();
  origin_ = context_.origin.value_or(exchange::originFor(*read_));
  exchange::TakeRules rules;
  rules.tolerance = tolerance_->value() * lengths::inMetres();
  busy(tr("Bringing in…"));
  // read_ and remembered_ stay as they are until this is done: every control that changes them asks anew first.
  lockChoices(true);
  worker_.post([this, rules, summary, number = ++asked_](const Worker::Token& token) {
    const auto later = [this, number](auto&& work) { inWindow(number, std::forward<decltype(work)>(work)); };
    const Progress progress([&] { return token.superseded(); },
                            [&](std::string_view, double done) {
                              later([this, done] { progress_->setValue(static_cast<int>(1000 * done)); });
                            });
    try {
      exchange::Taken taken = exchange::take(*read_, remembered_, origin_, rules, progress);
      later([this, summary, taken = std::move(taken)]() mutable {
        taken_ = std::move(taken);
        summary_->setText(summary);
        if (const QString key = isPoints_ ? memoryKey() : QString(); !key.isEmpty()) {
          QVariantList kept;
          for (const QComboBox* box : columnOf_) kept << box->currentIndex() - 1;
          QSettings().setValue(key, kept);
        }
        accept();
      });
    } catch (const std::exception& e) {
      later([this, text = QString::fromUtf8(e.what())] {
        lockChoices(false);
        progress_->hide();
        auto* item = new QListWidgetItem(text);
        item->setForeground(theme::error());
        wrong_->insertItem(0, item);
        wrong_->scrollToTop();
        ready_ = true;
        showChoice();
      });
    }
  });
}

}  // namespace inselberg::app
