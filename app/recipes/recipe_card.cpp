#include "app/recipes/recipe_card.h"

#include <QApplication>
#include <QDir>
#include <QDrag>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QUrl>
#include <cmath>

#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/recipe/shelf.h"

namespace virga {
namespace {

QString lengthsOf(const Recipe& recipe) {
    if (recipe.place == RecipePlace::Shot) return QObject::tr("the shot");
    return QStringLiteral("%1 | %2").arg(recipe.framesOut).arg(recipe.framesIn);
}

QPainterPath star(const QPointF& middle, double radius) {
    QPainterPath path;
    for (int i = 0; i < 10; ++i) {
        const double r = i % 2 == 0 ? radius : radius * 0.45, a = -M_PI / 2 + i * M_PI / 5;
        const QPointF at = middle + QPointF(std::cos(a), std::sin(a)) * r;
        i == 0 ? path.moveTo(at) : path.lineTo(at);
    }
    path.closeSubpath();
    return path;
}

} // namespace

RecipeCard::RecipeCard(const Recipe& recipe, QWidget* parent)
    : MovingTile(pictures, pictures / 2 - 2, parent), m_recipe(recipe) { // just before the cut tells most at rest
    const QString name = virga::shown(recipe.name);
    setText(name);
    setNote(lengthsOf(recipe));
    setSecondLine(QStringLiteral(" ")); // nothing moves when it is known
    setAccessibleName(tr("Recipe %1").arg(name));
    setTipWith({});
}

void RecipeCard::setTipWith(const QString& more) {
    QString tip = QStringLiteral("<b>%1</b>").arg(text().toHtmlEscaped());
    const std::string& note = m_recipe.note;
    if (!note.empty()) tip += "<br>" + virga::shownLines(note).toHtmlEscaped().replace('\n', "<br>");
    if (m_recipe.place == RecipePlace::Cut)
        tip += "<br>" + tr("%1 frames out, %2 in. A click uses it, Shift+click the other way round.")
                            .arg(m_recipe.framesOut)
                            .arg(m_recipe.framesIn);
    else if (m_recipe.place == RecipePlace::Overlay)
        tip += "<br>" + tr("For a selected overlay: how it comes and goes.");
    else
        tip += "<br>" + tr("For the selected shot, as long as it is.");
    if (!more.isEmpty()) tip += "<br>" + more;
    setOwnMarkupTip(this, tip);
}

void RecipeCard::setShowing(const std::optional<CutShowing>& showing) {
    if (!showing) {
        setSecondLine(QStringLiteral(" "));
        return setTipWith({});
    }
    const QString speed = tr("%1 %").arg(showing->fastest, 0, 'f', 0);
    setSecondLine(showing->copies == 0 ? speed : tr("%1, copies on %2").arg(speed).arg(showing->copies));
    const QString copied = showing->copies == 0   ? tr("no copies at its edges")
                           : showing->copies == 1 ? tr("copies at its edges on one frame")
                                                  : tr("copies at its edges on %1 frames").arg(showing->copies);
    setTipWith(tr("At this cut: a seen speed of up to %1 of the width a frame, %2.").arg(speed, copied));
}

void RecipeCard::setFavourite(bool on) {
    m_favourite = on;
    update();
}

void RecipeCard::setChosen(bool on) {
    if (on == m_chosen) return;
    m_chosen = on;
    update();
}

QRect RecipeCard::starRect() const {
    return {pictureSize().width() - 18, 4, 18, 18};
}

void RecipeCard::paintEvent(QPaintEvent* event) {
    MovingTile::paintEvent(event);
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (m_chosen) {
        p.setPen(QPen(theme().strong, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(QRectF(1, 1, pictureSize().width() + 2, pictureSize().height() + 2), 4, 4);
    }
    if (!m_favourite && !(underMouse() && isEnabled())) return;
    const QPainterPath path = star(QRectF(starRect()).center(), 6.5);
    p.setPen(QPen(m_favourite ? theme().playhead : theme().text, 1));
    p.setBrush(m_favourite ? QBrush(theme().playhead) : QBrush(QColor(0, 0, 0, 120)));
    p.drawPath(path);
}

void RecipeCard::mousePressEvent(QMouseEvent* event) {
    m_pressed = event->position().toPoint();
    m_onStar = event->button() == Qt::LeftButton && starRect().contains(m_pressed);
    m_dragging = false;
    if (!m_onStar) MovingTile::mousePressEvent(event);
}

void RecipeCard::mouseMoveEvent(QMouseEvent* event) {
    const auto far = (event->position().toPoint() - m_pressed).manhattanLength() >= QApplication::startDragDistance();
    if (event->buttons() & Qt::LeftButton && !m_onStar && !m_dragging && far) {
        m_dragging = true;
        setDown(false);
        return dragOut();
    }
    MovingTile::mouseMoveEvent(event);
}

void RecipeCard::mouseReleaseEvent(QMouseEvent* event) {
    if (m_onStar) {
        m_onStar = false;
        if (starRect().contains(event->position().toPoint())) emit starClicked();
        return;
    }
    if (m_dragging) return;
    MovingTile::mouseReleaseEvent(event);
}

// As a file that any program can take.
void RecipeCard::dragOut() {
    const QString path = QDir::temp().filePath(id() + QString::fromUtf8(recipeSuffix.data(), int(recipeSuffix.size())));
    if (!saveRecipe(m_recipe, path.toStdString())) return;
    auto* drag = new QDrag(this);
    auto* file = new QMimeData;
    file->setUrls({QUrl::fromLocalFile(path)});
    file->setText(QString::fromStdString(recipeText(m_recipe)));
    drag->setMimeData(file);
    drag->setPixmap(grab(QRect(0, 0, pictureSize().width() + 4, pictureSize().height() + 4)));
    drag->exec(Qt::CopyAction);
}

} // namespace virga
