#pragma once
// Dialogs about recipes: keeping a cut as one, putting one on many cuts, pasting a transition with a choice of what
// goes along.
#include <QDialog>

#include "app/commands/recipe_commands.h"
#include "app/document/recipe_shelf.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace virga {

class NumberField;

/// What is taken along, as ticks; those that there is nothing of are off and cannot be ticked.
class PartsBox : public QWidget {
    Q_OBJECT
public:
    PartsBox(const Recipe& whole, QWidget* parent = nullptr);
    RecipeParts parts() const;

signals:
    void changed();

private:
    std::vector<std::pair<QCheckBox*, bool RecipeParts::*>> m_boxes;
};

/// Keeps the cut as a recipe of the user's own. REQUIRES: a cut.
class KeepRecipeDialog : public QDialog {
    Q_OBJECT
public:
    KeepRecipeDialog(Document* document, RecipeShelf* shelf, QWidget* parent = nullptr);

private:
    void refresh();
    void keep();
    Document* m_document;
    RecipeShelf* m_shelf;
    QLineEdit *m_name, *m_note, *m_tags;
    PartsBox* m_parts;
    QCheckBox* m_link;
    QLabel* m_words;
    QPushButton* m_keep;
};

/// A recipe on many cuts; what it would be is tried out while the dialog is open.
class ManyCutsDialog : public QDialog {
    Q_OBJECT
public:
    ManyCutsDialog(Document* document, const Recipe& recipe, const RecipeUse& use, bool linked,
                   QWidget* parent = nullptr);
    ~ManyCutsDialog() override;

private:
    std::vector<int> cuts() const;
    ManyCuts how() const;
    void refresh();
    Document* m_document;
    Recipe m_recipe;
    RecipeUse m_use;
    QComboBox *m_which, *m_every, *m_ways;
    QCheckBox *m_vary, *m_linked;
    NumberField *m_seed, *m_step;
    QLabel* m_words;
    QPushButton* m_take;
};

/// The parts of a copied transition that are to be pasted.
class PasteDialog : public QDialog {
    Q_OBJECT
public:
    PasteDialog(const Recipe& copied, int cut, QWidget* parent = nullptr);
    RecipeParts parts() const { return m_parts->parts(); }

private:
    PartsBox* m_parts;
};

} // namespace virga
