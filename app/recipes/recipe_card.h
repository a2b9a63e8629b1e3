#pragma once
// One recipe as a picture made from the cut's own two shots: it moves while the pointer is over it. A click applies it,
// a click with Shift the other way round.
#include <QAbstractButton>
#include <QImage>
#include <QTimer>
#include <vector>

#include "core/recipe/recipe.h"

namespace virga {

class RecipeCard : public QAbstractButton {
    Q_OBJECT
public:
    explicit RecipeCard(const Recipe& recipe, QWidget* parent = nullptr);

    const Recipe& recipe() const { return m_recipe; }
    /// The moving picture's frames are those from firstFrame on, counted from the cut.
    static constexpr int firstFrame = -5, frameCount = 12;
    void setFrame(int index, const QImage& image);
    void clearFrames();
    QSize pictureSize() const;
    QSize sizeHint() const override { return {104, 96}; }
    QSize minimumSizeHint() const override { return {74, 96}; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    Recipe m_recipe;
    std::vector<QImage> m_frames;
    QTimer m_timer;
    int m_shown = -firstFrame - 2; // frame −2 tells most at rest
};

} // namespace virga
