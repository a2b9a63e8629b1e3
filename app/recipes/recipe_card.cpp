#include "app/recipes/recipe_card.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/style/theme.h"

namespace virga {

RecipeCard::RecipeCard(const Recipe& recipe, QWidget* parent)
    : QAbstractButton(parent), m_recipe(recipe), m_frames(frameCount) {
    const QString name = QString::fromStdString(recipe.label);
    setText(name);
    setAccessibleName(tr("Recipe %1").arg(name));
    setToolTip(tr("%1: %2 frames out, %3 in. Click to use it at this cut, Shift+click the other way round.")
                   .arg(name)
                   .arg(recipe.framesOut)
                   .arg(recipe.framesIn));
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    setFixedHeight(96);
    m_timer.setInterval(80);
    connect(&m_timer, &QTimer::timeout, this, [this] {
        m_shown = (m_shown + 1) % frameCount;
        update();
    });
}

QSize RecipeCard::pictureSize() const {
    const int w = std::clamp(width() - 4, 16, 100); // the texts below it have their room
    return {w, w * 9 / 16};
}

void RecipeCard::setFrame(int index, const QImage& image) {
    if (index >= 0 && index < frameCount) m_frames[std::size_t(index)] = image;
    update();
}

void RecipeCard::clearFrames() {
    for (QImage& image : m_frames) image = {};
    update();
}

void RecipeCard::enterEvent(QEnterEvent*) {
    m_shown = 0;
    m_timer.start();
    update();
}

void RecipeCard::leaveEvent(QEvent*) {
    m_timer.stop();
    m_shown = -firstFrame - 2;
    update();
}

void RecipeCard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRectF r(2, 2, pictureSize().width(), pictureSize().height());
    QPainterPath path;
    path.addRoundedRect(r, 3, 3);
    p.fillPath(path, theme().chart);
    p.setOpacity(isEnabled() ? 1 : 0.4);
    const QImage& image = m_frames[std::size_t(m_shown)];
    if (!image.isNull()) {
        p.setClipPath(path);
        p.drawImage(r, image);
        p.setClipping(false);
    }
    const bool hot = isEnabled() && (underMouse() || hasFocus());
    p.setPen(QPen(isDown() ? theme().strong : hot ? theme().dim : theme().line, hot ? 1.5 : 1));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(r, 3, 3);
    p.setPen(theme().text);
    p.setFont(textFont(11, QFont::Medium));
    p.drawText(QRectF(2, r.bottom() + 3, width() - 4, 16), Qt::AlignLeft | Qt::AlignVCenter, text());
    p.setPen(theme().dim);
    p.setFont(numberFont(10));
    p.drawText(QRectF(2, r.bottom() + 18, width() - 4, 14), Qt::AlignLeft | Qt::AlignVCenter,
               QStringLiteral("%1 | %2").arg(m_recipe.framesOut).arg(m_recipe.framesIn));
}

} // namespace virga
