#pragma once
// All shapes in one field: pointing at one tries it on the piece at once and shows the move in a small looping picture;
// a click or Enter takes it, Escape or a click elsewhere brings back what was. CSS text goes in and out, and the
// present shape can be kept as one's own.
#include <QFrame>
#include <QImage>
#include <QTimer>
#include <vector>

#include "app/commands/key_commands.h"
#include "app/lanes/shape_menu.h"
#include "app/services/frame_service.h"

class QLabel;
class QLineEdit;
class QPushButton;

namespace virga {

class ShapeTile;

/// The tried move around the cut, or over the whole of a clip, as a looping picture.
class MovePreview : public QWidget {
    Q_OBJECT
public:
    MovePreview(Document* document, FrameService* frames, StackPlace place, QWidget* parent = nullptr);
    ~MovePreview() override;
    int framesThere() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void ask();
    Document* m_document;
    FrameService* m_frames;
    StackPlace m_place;
    QTimer m_ask, m_turn;
    std::vector<QImage> m_images;
    int m_shown = 0;
};

class ShapeField : public QFrame {
    Q_OBJECT
public:
    ShapeField(Document* document, FrameService* frames, std::vector<Stretch> stretches, QWidget* parent);
    ~ShapeField() override;

    /// Beside what is being shaped: its lower right corner there, kept on the screen.
    void showAt(const QPoint& globalBottomRight);
    QAbstractButton* tile(const QString& label) const;
    MovePreview* preview() const { return m_preview; }

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    friend class ShapeTile;
    void build();
    void tryOut(const Easing& easing, const QString& label);
    void stopTrying();
    /// What was tried is taken back, and the present shape is told again.
    void showPresent();
    void take(const Easing& easing, const QString& label);
    void takeText();
    void keep();
    void forget(const QString& label);
    void say(const QString& text, bool wrong = false);
    std::optional<Easing> present() const;

    Document* m_document;
    std::vector<Stretch> m_stretches;
    QWidget* m_tiles = nullptr;
    MovePreview* m_preview;
    QLabel* m_name;
    QLineEdit *m_css, *m_own;
    std::vector<ShapeTile*> m_all;
    bool m_trying = false;
};

} // namespace virga
