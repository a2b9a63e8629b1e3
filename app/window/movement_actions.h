#pragma once
// What is done with movement and cuts that are read from pictures, and with the movement's sound.
#include <QObject>

#include "app/services/job.h"

class QWidget;

namespace virga {

class NoticeBar;
class ReelView;
class Services;

class MovementActions : public QObject {
    Q_OBJECT
public:
    MovementActions(Services& services, ReelView* reel, NoticeBar* notice, QWidget* window);

    void findCuts(const QString& mediaId);
    /// At the cut before a picture; without one the video's cuts are found first.
    void traceTransition(const QString& mediaId, qint64 picture = -1);
    void findCarryingCut();
    /// Takes the chosen shot's shake off, or gives it back.
    void steadyShot();
    void chooseStems();
    void writeStemsBeside(const QString& file);
    /// The picture without the selected move, and with it again.
    void toggleWithout();
    /// The piece with made-up pictures mixed instead, and as it is again: to compare.
    void toggleMixed();

private:
    Services& m_services;
    ReelView* m_reel;
    NoticeBar* m_notice;
    QWidget* m_window;
    Job m_steadying, m_stems;
};

} // namespace virga
