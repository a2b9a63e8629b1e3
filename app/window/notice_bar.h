#pragma once
// What went wrong: what, where, what was kept, what to do. Lies over the window at its lower edge, so that nothing
// moves; stays until it is closed.
#include <QWidget>

class QLabel;

namespace virga {

class NoticeBar : public QWidget {
    Q_OBJECT
public:
    explicit NoticeBar(QWidget* window);
    void tell(const QString& title, const QString& details = {});
    QString text() const;

protected:
    void paintEvent(QPaintEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void place();
    QLabel *m_title, *m_details;
};

} // namespace virga
