#pragma once
// The Ladder enlarged: many frames around the cut in rows, over the middle of the window; to be walked through, and
// written as one PNG. Escape or a double click closes it.
#include <QWidget>
#include <vector>

#include "app/services/frame_service.h"

class QPushButton;

namespace virga {

class ContactSheet : public QWidget {
    Q_OBJECT
public:
    ContactSheet(Document* document, FrameService* frames, QWidget* parent);

    /// Over a part of its parent; asks for its frames.
    void open(const QRect& where);
    int count() const { return int(m_cells.size()); }
    QRectF frameRect(int index) const;
    bool isReady() const;
    /// All of it as one picture, as large as it is shown. Errors: as writing a file.
    Expected<void> write(const QString& path) const;

signals:
    void closed();
    void problem(const QString& text);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Cell {
        std::int64_t frame = 0; // of the reel
        QImage image;
    };
    void arrange();
    void refresh();
    void chooseAndWrite();
    void paintInto(QPainter& p, bool chosen) const;

    Document* m_document;
    FrameService* m_frames;
    QPushButton *m_write, *m_close;
    std::vector<Cell> m_cells;
    int m_columns = 1;
    QSizeF m_cell;
};

} // namespace virga
