#pragma once
// A line under the top bar for what went wrong: what, where, what was kept, what to do. Stays until it is closed.
#include <QWidget>

class QLabel;

namespace virga {

class NoticeBar : public QWidget {
    Q_OBJECT
public:
    explicit NoticeBar(QWidget* parent = nullptr);
    void tell(const QString& title, const QString& details = {});
    QString text() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QLabel *m_title, *m_details;
};

} // namespace virga
