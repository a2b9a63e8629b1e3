#pragma once
// Light copies of large and slow shots, made in the background one after the other and kept on disk beside the other
// caches, bounded in bytes; the pictures shown while editing come from them then, never what is exported. Interface
// thread only.
#include <QHash>
#include <QObject>
#include <QThreadPool>

#include "app/services/frame_service.h"

namespace virga {

class Proxies : public QObject {
    Q_OBJECT
public:
    Proxies(Document* document, FrameService* frames, QObject* parent = nullptr);
    ~Proxies() override;

    struct State {
        enum Kind { None, Waiting, Making, Ready, Failed } kind = None;
        double part = 0; // of one being made
        QString why;     // it is wanted, or it failed
    };
    State stateOf(const Media& media) const;
    /// "light copies: 1 of 3, 43 %"; empty where nothing is being made.
    QString progressText() const;

    bool isOn() const { return m_on; }
    /// Whether some are made and used; what is on disk stays.
    void setOn(bool on);
    /// False while files are looked at or copies made.
    bool isIdle() const { return !m_busy; }

    /// Where they are kept; bytes and number of them there. Slow disks: not for the interface's thread.
    static QString folder();
    struct OnDisk {
        qint64 bytes = 0;
        int files = 0;
    };
    static OnDisk onDisk();
    /// Most bytes on disk; the longest unused go first.
    static constexpr qint64 mostOnDisk = qint64(20) << 30;
    /// Deletes all; those of the open project are made again only when it is opened anew or this is switched on again.
    void removeAll();

    /// A file was changed or relinked.
    void forget(const QString& path);

signals:
    void changed();

private:
    struct Wanted {
        QString path;
        std::string fingerprint;
        bool deinterlace = true;
        QString key() const { return path + (deinterlace ? "|whole" : "|lines"); }
    };
    struct Made {
        QString file; // empty: none is needed
        QString why;
        std::optional<Error> error;
    };
    void look();
    void next();
    static Made make(const Wanted& wanted, const std::function<void(const QString&)>& begun,
                     const std::function<void(double)>& report, const Cancel& cancel);

    Document* m_document;
    FrameService* m_frames;
    std::vector<Wanted> m_wanted; // of the project, each once
    QHash<QString, State> m_states;
    bool m_on = true, m_busy = false;
    int m_generation = 0;
    Cancel m_cancel;
    QThreadPool m_thread;
};

} // namespace virga
