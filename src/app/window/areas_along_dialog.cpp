#include "window/areas_along_dialog.h"

#include <qcustomplot.h>

#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>

#include "base/error.h"
#include "card/quantity_edit.h"
#include "card/rows.h"
#include "ledger/table_page.h"
#include "section/section_view.h"
#include "section/sheet.h"
#include "theme/theme.h"
#include "window/cross_sections.h"
#include "workspace/lengths.h"

namespace inselberg::app {

AreasAlongDialog::AreasAlongDialog(Workspace& workspace, const SectionView& view, QWidget* parent)
    : QDialog(parent), workspace_(workspace), view_(view) {
  setObjectName("areasAlongDialog");
  const section::SheetRules rules = view.sheetRules();
  setWindowTitle(tr("Cut and fill along the line, %1 to %2")
                     .arg(QString::fromStdString(view.section().names[rules.earlier]),
                          QString::fromStdString(view.section().names[rules.later])));
  resize(640, 600);
  auto* form = new QFormLayout(this);
  const double length = view.section().length();
  spacing_ = addLengthField(*form, "alongSpacing", tr("A section every"), length / 40);
  width_ = addLengthField(*form, "alongWidth", tr("Wide in all"), length / 4);
  plot_ = new QCustomPlot(this);
  plot_->setObjectName("alongPlot");
  plot_->setMinimumHeight(190);
  plot_->xAxis->setLabel(tr("station, %1").arg(lengths::unit()));
  plot_->yAxis->setLabel(tr("fill  ·  %1  ·  cut").arg(lengths::unit() + "²"));
  for (int i = 0; i < 2; ++i) plot_->addGraph();
  dressPlot(*plot_, [this] {
    for (const auto& [graph, colour] : {std::pair(0, theme::cut()), std::pair(1, theme::fill())}) {
      plot_->graph(graph)->setPen(QPen(colour, 2));
      plot_->graph(graph)->setBrush(theme::faded(colour, 110));
    }
  });
  plot_->yAxis->setNumberPrecision(1);
  plot_->setToolTip(tr("Cut (ember) above the line, fill (lagoon) below it."));
  form->addRow(plot_);
  table_ = new TablePage("alongTable", this);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setToolTip(tr("Double-click a row to see its section."));
  form->addRow(table_);
  note_ = new QLabel(this);
  note_->setObjectName("alongNote");
  note_->setWordWrap(true);
  form->addRow(note_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close, this);
  auto* copies = buttons->addButton(tr("Copy the table"), QDialogButtonBox::ActionRole);
  copies->setObjectName("alongCopy");
  copies->setAutoDefault(false);
  connect(copies, &QPushButton::clicked, table_, &TablePage::copy);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  form->addRow(buttons);
  for (QuantityEdit* edit : {spacing_, width_}) {
    connect(edit, &QuantityEdit::edited, this, &AreasAlongDialog::compute);
    connect(edit, &QuantityEdit::refused, note_, &QLabel::setText);
  }
  connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int row, int) {
    wanted_ = cross_[static_cast<std::size_t>(row)].line;
    accept();
  });
  compute();
}

void AreasAlongDialog::compute() {
  const section::SheetRules rules = view_.sheetRules();
  try {
    cross_ = crossLinesAlong(view_, {spacing_->value(), width_->value()});
    workspace_.doLong(tr("Taking sections"), [&](const Progress& progress) {
      std::vector<section::Section> sections;
      for (const auto& c : cross_) {
        progress.check();
        sections.push_back(view_.along(c.line));
      }
      areas_ = section::areasAlong(sections, cross_, rules.earlier, rules.later);
    });
    show();
  } catch (const Cancelled&) {
    note_->setText(tr("Stopped."));
  } catch (const Error& e) {
    note_->setText(QString::fromUtf8(e.what()));
  }
}

// Areas of sections in square feet, where acres would tell nothing.
void AreasAlongDialog::show() {
  const Measures& measures = workspace_.project()->measures;
  const std::string square = lengths::unit().toStdString() + "²";
  const double unit = lengths::inMetres();
  report::Table table{"Areas along the line",
                      {{"Station m", 2, false},
                       {"Cut " + square, 2, false},
                       {"Fill " + square, 2, false},
                       {"Cut so far m³", 0, false},
                       {"Fill so far m³", 0, false}},
                      {}};
  QVector<double> stations, cuts, fills;
  for (const section::AreaAlong& a : areas_) {
    const double cut = a.cut / (unit * unit), fill = a.fill / (unit * unit);
    stations << a.station / unit, cuts << cut, fills << -fill;
    table.rows.push_back({a.station, cut, fill, a.cutSoFar, a.fillSoFar});
  }
  table_->tell(report::inMeasures(std::move(table), measures));
  plot_->graph(0)->setData(stations, cuts, true);
  plot_->graph(1)->setData(stations, fills, true);
  plot_->rescaleAxes();
  plot_->yAxis->scaleRange(1.1);
  plot_->replot();
  note_->setText(tr("By average end areas over %1: cut %2, fill %3. The ledger's volumes are exact; these depend "
                    "on the spacing and the width.")
                     .arg(lengths::told(areas_.back().station, 1),
                          workspace_.told(areas_.back().cutSoFar, Quantity::volume),
                          workspace_.told(areas_.back().fillSoFar, Quantity::volume)));
}

}  // namespace inselberg::app
