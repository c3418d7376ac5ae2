// A typical section as a drawing: its legs from the crest outwards, their ends to be dragged, their numbers to be typed
// over where they are written, new ones to be clicked.
#pragma once

#include <QPolygonF>
#include <QWidget>
#include <optional>
#include <vector>

#include "works/section.h"

class QLineEdit;

namespace inselberg::app {

class SectionDrawing : public QWidget {
  Q_OBJECT

 public:
  explicit SectionDrawing(QWidget* parent);

  void setSection(const works::Section& section);
  const works::Section& section() const { return section_; }
  // What is drawn behind: lines of ground, each from the crest out and up in metres, and where it lies. Nothing in
  // place of it: none.
  void setGround(std::vector<QPolygonF> ground, const QString& where);
  const std::vector<QPolygonF>& ground() const { return ground_; }
  // Where the end of a leg is, in the widget; of a batter its end in fill, or in cut.
  QPointF endOf(std::size_t leg, bool cut = false) const;
  // Where its numbers are written; of a batter those in fill, or in cut.
  QRectF wordsOf(std::size_t leg, bool cut = false) const;

 Q_SIGNALS:
  void dragged();   // while an end moves
  void released();  // after it, and after numbers were typed, a click added a leg or a key took one out
  void givenUp();   // a drag, by Esc
  void mistyped(const QString& why);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void leaveEvent(QEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;
  QSize sizeHint() const override { return {420, 240}; }

 private:
  struct Grip {
    std::size_t leg;
    bool cut;
    bool operator==(const Grip&) const = default;
  };
  struct Words {
    Grip of;
    QString text;
    QRectF place;
  };
  QPointF startOf(std::size_t leg) const;  // m, from the crest, up
  QPointF endInMetres(std::size_t leg, bool cut) const;
  QPointF toScreen(QPointF metres) const;
  QPointF toMetres(QPointF screen) const;
  std::optional<Grip> gripAt(QPointF screen) const;
  void dragTo(QPointF metres);
  void addLeg(QPointF metres);
  std::vector<Words> words() const;
  std::optional<Grip> wordsAt(QPointF screen) const;
  // The numbers of a leg in a line over them; what was typed there is taken, false when it is not understood.
  void type(Grip of, const QString& start = {});
  bool takeTyped();
  void stopTyping();
  void typeNext(int step);
  void fit();
  void paintGround(QPainter& painter) const;

  works::Section section_;
  std::vector<QPolygonF> ground_;
  QString where_;
  std::optional<Grip> held_, pointed_;  // an end that is dragged; words under the pointer
  works::Section before_;               // the drag
  Grip chosen_{0, false};
  QLineEdit* entry_;
  double scale_ = 20, originX_ = 40, originY_ = 120;  // pixels for a metre; where the crest is
};

}  // namespace inselberg::app
