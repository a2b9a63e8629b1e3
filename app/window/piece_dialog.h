#pragma once
// The piece's own size and rate. Changing the rate keeps times in seconds: cuts go to their nearest frame, keys and
// beats stay where they are seen and heard.
#include <QDialog>

#include "app/document/document.h"

class QComboBox;
class QLineEdit;
class QLabel;
class QPushButton;

namespace virga {

class NumberField;

class PieceDialog : public QDialog {
    Q_OBJECT
public:
    PieceDialog(Document* document, QWidget* parent);

private:
    Settings wanted() const;
    void showSettings(Size size, FrameRate rate);
    void refresh();
    Document* m_document;
    QComboBox *m_sizes, *m_rates;
    NumberField *m_width, *m_height;
    QLineEdit* m_colour;
    QLabel* m_told;
    QPushButton *m_change, *m_swatch;
};

} // namespace virga
