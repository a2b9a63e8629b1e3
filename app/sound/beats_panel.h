#pragma once
// Beats: the music's tempo found, typed, tapped along or corrected; and the reel cut to it.
#include <QElapsedTimer>
#include <QWidget>

#include "app/document/document.h"
#include "app/playback/player.h"
#include "app/services/job.h"
#include "core/analysis/find_beats.h"

class QLabel;
class QProgressBar;
class QPushButton;

namespace virga {

class NumberField;

class BeatsPanel : public QWidget {
    Q_OBJECT
public:
    BeatsPanel(Document* document, Player* player, QWidget* parent = nullptr);

    bool isSearching() const { return m_job.isRunning(); }

public slots:
    /// One tap: at the playhead while playing, by the clock otherwise. From the fourth on they set the tempo.
    void tap();
    void findNow();

signals:
    void problem(const QString& text);

private:
    void refresh();
    static QString describe(const FoundBeats& found);
    int music() const;
    const Tempo* tempo() const;
    void set(const Tempo& tempo, const QString& name, const QString& mergeKey = {});
    QPushButton* button(const QString& text, const QString& tip, QWidget* parent);

    Document* m_document;
    Player* m_player;
    Job m_job;
    QLabel* m_state;
    QProgressBar* m_progress;
    NumberField *m_tempo, *m_first, *m_perBar, *m_every;
    QPushButton *m_find, *m_tap, *m_cut;
    std::vector<QPushButton*> m_corrections;
    std::vector<double> m_taps;
    QElapsedTimer m_clock;
};

} // namespace virga
