#pragma once
// What is done with recipes in the window, from menus and from cards.
#include <QObject>

#include "core/recipe/recipe.h"

class QMenu;
class QPoint;
class QWidget;

namespace virga {

class Layout;
class NoticeBar;
class Services;

class RecipeActions : public QObject {
    Q_OBJECT
public:
    RecipeActions(Services& services, Layout& layout, NoticeBar* notice, QWidget* window);

    /// At the selected cut.
    void use(const QString& id, bool otherWay);
    void keep();
    void putOnMoreCuts(const QString& id, const RecipeUse& use);
    void pasteByChoice();
    /// Recipe files put among the user's own.
    void read(const QStringList& files);
    void chooseToRead();
    void fillOwn(QMenu* menu);

private:
    void write(const QString& id);
    void keepInShelf(const QString& id);
    void showMenu(const QString& id, const QPoint& at);

    Services& m_services;
    Layout& m_layout;
    NoticeBar* m_notice;
    QWidget* m_window;
};

} // namespace virga
