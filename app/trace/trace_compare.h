#pragma once
// Two pictures that play together: the transition as it was found, and its movement on the editor's own shots.
#include <QImage>
#include <QMap>
#include <QTimer>
#include <QWidget>

namespace virga {

class TraceCompare : public QWidget {
    Q_OBJECT
public:
    explicit TraceCompare(QWidget* parent = nullptr);

    /// Frames from the cut, [first, last], at so many a second.
    void setSpan(qint64 first, qint64 last, double rate);
    void setOriginal(const QMap<std::int64_t, QImage>& pictures);
    /// Empty, with words, where there are no own shots to show it on.
    void setOwn(const QMap<std::int64_t, QImage>& pictures, const QString& words = {});
    bool hasOwn() const { return !m_own.isEmpty(); }
    void setPlaying(bool on);
    bool isPlaying() const { return m_timer.isActive(); }
    qint64 frame() const { return m_frame; }
    void setFrame(qint64 frame);
    QSize sizeHint() const override { return {560, 186}; }

signals:
    void frameChanged(qint64 frame);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    void next();
    QMap<std::int64_t, QImage> m_original, m_own;
    QString m_words;
    QTimer m_timer;
    qint64 m_first = 0, m_last = 0, m_frame = 0;
};

} // namespace virga
