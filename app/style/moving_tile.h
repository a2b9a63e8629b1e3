#pragma once
// A button that shows a small picture, moving while the pointer is over it or it has the focus, with a name beneath and
// perhaps a second line.
#include <QAbstractButton>
#include <QImage>
#include <QTimer>
#include <vector>

namespace virga {

class MovingTile : public QAbstractButton {
    Q_OBJECT
public:
    /// `atRest` is the frame shown while it does not move.
    MovingTile(int frameCount, int atRest, QWidget* parent = nullptr);

    int frameCount() const { return int(m_frames.size()); }
    int atRest() const { return m_atRest; }
    void setFrame(int index, const QImage& image);
    bool hasFrame(int index) const { return !m_frames[std::size_t(index)].isNull(); }
    void clearFrames();
    void setSecondLine(const QString& text);
    /// Right of the name, in small numbers.
    void setNote(const QString& text);
    /// Without the lines of text beneath.
    void setPictureOnly(bool on) { m_pictureOnly = on; }
    /// Moving all the time, not only under the pointer.
    void setAlwaysMoving(bool on);
    bool isMoving() const { return m_timer.isActive(); }
    int shown() const { return m_shown; }
    /// The largest width of its picture.
    void setWidest(int pixels) { m_widest = pixels; }
    QSize pictureSize() const;
    QSize sizeHint() const override { return {m_widest + 4, heightFor(m_widest)}; }
    QSize minimumSizeHint() const override { return {74, heightFor(70)}; }

signals:
    /// The pointer has come over it, or the focus.
    void pointedAt();

protected:
    void paintEvent(QPaintEvent* event) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    int heightFor(int width) const { return width * 9 / 16 + (m_pictureOnly ? 4 : m_second.isEmpty() ? 22 : 38); }
    void play(bool on);
    std::vector<QImage> m_frames;
    QTimer m_timer;
    QString m_second, m_note;
    bool m_always = false, m_pictureOnly = false;
    int m_atRest, m_shown, m_widest = 100;
};

} // namespace virga
