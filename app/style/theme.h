#pragma once
// The look: colour tokens of the night and day themes (from tokens.json), the fonts that ship with the program, and the
// style sheet. Interface thread only.
#include <QColor>
#include <QFont>
#include <QString>

namespace virga {

struct Theme {
    QString name; // "night" or "day"
    QColor window, panel, raised, line, chart, grid, text, dim, faint, outgoing, incoming, breaks, look, fine, playhead,
        strong, onStrong, shade;
};

/// The theme in use.
const Theme& theme();

/// Loads fonts and tokens once, and puts a theme on the whole application. Views repaint and ask theme() anew.
void useTheme(const QString& name);

/// Body text, captions, and numbers, at a size in pixels (never under 10).
QFont textFont(int pixels = 12, QFont::Weight weight = QFont::Normal);
QFont numberFont(int pixels = 11);

/// The colour of a side of a cut where it is drawn over pictures, whatever the theme.
inline QColor sideMark(bool incoming) {
    return incoming ? QColor(0x5c, 0xc6, 0xc9) : QColor(0xf0, 0xa3, 0x5a);
}

} // namespace virga
