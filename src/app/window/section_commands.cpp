// Sections: taken along a line, swept, drawn on paper.
#include <QDialog>
#include <QDialogButtonBox>
#include <QFileInfo>
#include <QFormLayout>
#include <QInputDialog>

#include "base/error.h"
#include "card/quantity_edit.h"
#include "exchange/text_file.h"
#include "project/features.h"
#include "tools/section_tool.h"
#include "window/areas_along_dialog.h"
#include "window/command.h"
#include "window/cross_sections.h"
#include "window/main_window.h"
#include "window/message_strip.h"
#include "window/print_pages.h"
#include "window/section_lines_dialog.h"

namespace inselberg::app {
namespace {

// The line of the chosen works, or of the chosen feature; closed ones back to their first place.
std::vector<plane::Vec2> chosenLine(MainWindow& w) {
  std::vector<plane::Vec2> line;
  const auto placed = w.workspace().project()->works(w.workspace().chosenWorks());
  const auto& features = w.workspace().chosenFeatures();
  bool closed = false;
  if (placed.ground) {
    const auto places = works::placesOf(placed.works->shape);
    if (places.empty()) return {};
    line = places.front().points, closed = places.front().closed;
    const auto* run = placed.works->shape.as<works::Run>();
    closed |= run && run->closed;
  } else if (features.size() == 1) {
    const auto shape = project::shapeOf(*w.workspace().project(), features.front());
    for (const auto& v : shape->vertices) line.push_back(v.plan());
    closed = shape->closed;
  }
  if (closed && !line.empty()) line.push_back(line.front());
  return line;
}

void takeAlong(MainWindow& w) {
  auto line = chosenLine(w);
  if (line.size() < 2) return w.messages().say(tr("Choose a line or works first, or draw the section (X)."), true);
  w.view().takeSection(std::move(line));
}

// Under a name, in place of the one that has it.
void keepLine(MainWindow& w) {
  const auto& lines = w.workspace().project()->sectionLines;
  bool given = false;
  const QString name = QInputDialog::getText(&w, tr("Keep the section's line"), tr("Its name"), QLineEdit::Normal,
                                             QString::fromStdString(project::nextLineName(lines)), &given)
                           .trimmed();
  if (!given || name.isEmpty()) return;
  auto with = project::withLine(lines, {name.toStdString(), w.view().sectionLine()});
  w.workspace().commit(project::withSectionLines(*w.workspace().project(), std::move(with)),
                       tr("keep the section line %1").arg(name));
}

void writeTo(MainWindow& w, const QString& path, const std::vector<section::Section>& sections,
             const std::vector<section::CrossLine>& cross) {
  exchange::writeWhole(path.toStdString(),
                       section::contentOf(path.toStdString(), sections, cross, w.section().sheetRules(),
                                          w.workspace().project()->origin));
  w.messages().say(tr("Written to %1.").arg(QFileInfo(path).fileName()), false);
}

QString askForFile(MainWindow& w, const QString& title) {
  const QString path =
      w.askForSaving(title, "section.pdf", tr("Drawing (*.pdf);;Drawing (*.svg);;Picture (*.png);;Table (*.csv)"));
  const bool known = std::any_of(std::begin(section::kEndings), std::end(section::kEndings),
                                 [&](const char* ending) { return path.endsWith(ending, Qt::CaseInsensitive); });
  if (path.isEmpty() || known) return path;
  w.messages().say(tr("The name has to end in .pdf, .svg, .png or .csv."), true);
  return {};
}

void write(MainWindow& w) {
  const QString path = askForFile(w, tr("Write the section"));
  if (path.isEmpty()) return;
  w.guarded([&] { writeTo(w, path, {w.section().section()}, {}); });
}

void print(MainWindow& w) {
  w.guarded([&] {
    const section::Section& shown = w.section().section();
    section::SheetRules rules = w.section().sheetRules();
    rules.headings = {section::headingOf(shown, rules, nullptr)};
    printPages(&w, QString::fromStdString(rules.title), section::sheetsOf({{shown}}, rules));
  });
}

// Nothing when it was let be.
std::optional<Cross> askForCross(MainWindow& w) {
  QDialog dialog(&w);
  dialog.setObjectName("crossDialog");
  dialog.setWindowTitle(tr("Sections square to the line"));
  auto* form = new QFormLayout(&dialog);
  const double length = w.section().section().length();
  auto* spacing = addLengthField(*form, "crossSpacing", tr("Every"), length / 20);
  auto* width = addLengthField(*form, "crossWidth", tr("Wide in all"), length / 4);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel, &dialog);
  form->addRow(buttons);
  QObject::connect(buttons, &QDialogButtonBox::accepted, &dialog, &QDialog::accept);
  QObject::connect(buttons, &QDialogButtonBox::rejected, &dialog, &QDialog::reject);
  if (dialog.exec() != QDialog::Accepted) return std::nullopt;
  return Cross{spacing->value(), width->value()};
}

void writeCross(MainWindow& w) {
  const auto asked = askForCross(w);
  if (!asked) return;
  w.guarded([&] {
    const auto cross = crossLinesAlong(w.section(), *asked);
    std::vector<section::Section> sections;
    for (const auto& c : cross) sections.push_back(w.section().along(c.line));
    const QString path = askForFile(w, tr("Write the sections"));
    if (!path.isEmpty()) writeTo(w, path, sections, cross);
  });
}

void showAreasAlong(MainWindow& w) {
  w.guarded([&] {
    const section::SheetRules rules = w.section().sheetRules();
    const std::size_t count = w.section().section().grounds.size();
    if (rules.earlier >= count || rules.later >= count || rules.earlier == rules.later)
      throw Error("the section has no two grounds to compare", "place works on the finished ground first");
    AreasAlongDialog dialog(w.workspace(), w.section(), &w);
    dialog.exec();
    if (!dialog.wanted().empty()) w.view().takeSection(dialog.wanted());
  });
}

}  // namespace

Commands sectionCommands(MainWindow& w) {
  const auto reads = [&w] { return w.can().read; };
  const auto has = [&w] { return w.can().read && w.view().hasSection(); };
  return {
      {.id = "section",
       .text = tr("Section"),
       .menu = "&View",
       .begins = true,
       .step = "Measure",
       .icon = "cross",
       .key = Qt::Key_X,
       .words = tr("cross profile cut through line sweep"),
       .run = [&w] { w.use("section", std::make_unique<SectionTool>(w.plan(), w.view())); },
       .enabled = reads,
       .checked = [&w] { return w.inHand() == "section"; }},
      {.id = "sectionAlong",
       .text = tr("Section along the chosen line or works"),
       .menu = "&View",
       .key = QKeySequence(Qt::SHIFT | Qt::Key_X),
       .words = tr("long profile run road alignment"),
       .run = [&w] { takeAlong(w); },
       .enabled = reads},
      {.id = "keepSection",
       .text = tr("Keep the section's line…"),
       .menu = "&View",
       .words = tr("save name letter profile remember"),
       .run = [&w] { keepLine(w); },
       .enabled = [&w] { return w.can().write && w.view().hasSection(); }},
      {.id = "keptSections",
       .text = tr("Kept section lines…"),
       .menu = "&View",
       .words = tr("list show open rename remove profile letter"),
       .run = [&w] { SectionLinesDialog(w.workspace(), w.view(), &w).exec(); },
       .enabled = [&w] { return w.can().read && !w.workspace().project()->sectionLines.empty(); }},
      {.id = "sectionAway",
       .text = tr("Put the section away"),
       .menu = "&View",
       .words = tr("close hide fold"),
       .run = [&w] { w.view().takeSection({}); },
       .enabled = has},
      {.id = "areasAlong",
       .text = tr("Cut and fill along the section's line…"),
       .menu = "&View",
       .words = tr("areas chart cross sections end area mass along chainage station volume"),
       .run = [&w] { showAreasAlong(w); },
       .enabled = has},
      {.id = "writeSection",
       .text = tr("Write the section…"),
       .menu = "&View",
       .step = "Issue",
       .button = "Sections",
       .brief = tr("Section…"),
       .says = tr("The section on show, as a drawing or a table."),
       .icon = "cross",
       .words = tr("pdf svg png csv print export profile"),
       .run = [&w] { write(w); },
       .enabled = has},
      {.id = "printSection",
       .text = tr("Print the section…"),
       .menu = "&View",
       .step = "Issue",
       .button = "Sections",
       .brief = tr("Print…"),
       .says = tr("The section on show, on a sheet of A3."),
       .icon = "cross",
       .words = tr("printer paper profile a3"),
       .run = [&w] { print(w); },
       .enabled = has},
      {.id = "writeCross",
       .text = tr("Write sections square to the line…"),
       .menu = "&View",
       .step = "Issue",
       .button = "Sections",
       .brief = tr("Square…"),
       .says = tr("Sections across the section's line, every so far."),
       .icon = "cross",
       .words = tr("cross sections spacing width pdf svg csv sheet"),
       .run = [&w] { writeCross(w); },
       .enabled = has},
  };
}

}  // namespace inselberg::app
