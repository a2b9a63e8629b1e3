#pragma once
// The found cuts as a grid of cards: the last frame before and the first after, the picture's number, how sure it is. A
// click takes a cut or leaves it, its menu traces its transition; the arrows move the chosen one by a picture, Delete
// leaves it out.
#include <QWidget>
#include <vector>

#include "app/services/thumbnails.h"
#include "core/analysis/find_cuts.h"

namespace virga {

class CutStrip : public QWidget {
    Q_OBJECT
public:
    CutStrip(Thumbnails* thumbnails, const Media& media, QWidget* parent = nullptr);

    struct Item {
        std::int64_t picture = 0;
        double confidence = 1;
        bool taken = true, byHand = false;
        std::int64_t before = 0, after = 0; // pictures on each side of it in which both shots are seen
    };
    void setItems(std::vector<Item> items);
    const std::vector<Item>& items() const { return m_items; }
    /// Takes what is at least so sure, and all that was set by hand.
    void setLeast(double confidence);
    void add(std::int64_t picture);
    /// When each picture starts; their number is that of the pictures.
    void setTimes(std::vector<Rational> times);
    QRect cardRect(int i) const;
    /// When a picture starts, in seconds.
    Rational timeOf(std::int64_t picture) const;

signals:
    void changed();
    /// The movement at a cut is to be read.
    void traceWanted(qint64 picture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    int columns() const;
    void fit();

    Thumbnails* m_thumbnails;
    Media m_media;
    std::vector<Item> m_items;
    std::vector<Rational> m_times;
    int m_current = -1;
};

} // namespace virga
