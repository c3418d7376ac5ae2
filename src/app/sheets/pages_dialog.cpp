#include "sheets/pages_dialog.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "base/error.h"
#include "canvas/sheet_layer.h"

namespace inselberg::app {
namespace {

constexpr int kSide = 180;  // pixels of a page's longer side

}  // namespace

PagesDialog::PagesDialog(const QString& name, std::shared_ptr<const std::string> bytes, int pages, QWidget* parent)
    : QDialog(parent), worker_([](const std::string&) {}) {
  setObjectName("pagesDialog");
  setWindowTitle(tr("Pages of %1").arg(name));
  resize(860, 560);
  auto* column = new QVBoxLayout(this);
  column->addWidget(
      new QLabel(tr("Each chosen page becomes a sheet of its own. Ctrl or Shift chooses several."), this));
  list_ = new QListWidget(this);
  list_->setObjectName("pages");
  list_->setViewMode(QListView::IconMode);
  list_->setIconSize({kSide, kSide});
  list_->setGridSize({kSide + 24, kSide + 40});
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  QPixmap blank(kSide, kSide);
  blank.fill(Qt::transparent);
  for (int page = 1; page <= pages; ++page) list_->addItem(new QListWidgetItem(blank, tr("page %1").arg(page)));
  list_->setCurrentRow(0);
  column->addWidget(list_, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, this);
  column->addWidget(buttons);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(list_, &QListWidget::itemDoubleClicked, this, &QDialog::accept);
  connect(list_, &QListWidget::itemSelectionChanged, this,
          [this, buttons] { buttons->button(QDialogButtonBox::Ok)->setEnabled(!list_->selectedItems().isEmpty()); });
  worker_.post([this, bytes = std::move(bytes), name = name.toStdString(), pages](const Worker::Token& token) {
    const Progress progress([&] { return token.leaving(); });
    const auto document = sheet::openDocument(bytes, name);
    for (int page = 1; page <= pages; ++page) {
      progress.check();
      QImage image;
      QString size;
      try {
        const sheet::PageFacts facts = document->facts(page);
        const double scale = kSide / std::max(facts.width, facts.height);
        const QSize pixels(std::max(1, int(std::lround(facts.width * scale))),
                           std::max(1, int(std::lround(facts.height * scale))));
        image = pagePicture(*document, page, {0, 0, facts.width, facts.height}, pixels, progress);
        if (facts.mmPerUnit) size = tr("%1 x %2 mm").arg(facts.widthMm(), 0, 'f', 0).arg(facts.heightMm(), 0, 'f', 0);
      } catch (const Error&) {
        size = tr("cannot be read");
      }
      QMetaObject::invokeMethod(
          this,
          [this, page, image, size] {
            QListWidgetItem* item = list_->item(page - 1);
            if (!image.isNull()) item->setIcon(QIcon(QPixmap::fromImage(image)));
            item->setText(tr("page %1, %2").arg(page).arg(size));
          },
          Qt::QueuedConnection);
    }
  });
}

PagesDialog::~PagesDialog() = default;

std::vector<int> PagesDialog::chosen() const {
  std::vector<int> pages;
  for (int row = 0; row < list_->count(); ++row) {
    if (list_->item(row)->isSelected()) pages.push_back(row + 1);
  }
  return pages;
}

}  // namespace inselberg::app
