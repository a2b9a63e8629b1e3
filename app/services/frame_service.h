#pragma once
// Renders frames for the views on a thread of its own. A request stands in a named slot: a newer one for the same slot
// replaces it. The most urgent goes first, and an urgent one interrupts a less urgent one, which is taken up again
// later. Finished frames are kept, bounded in bytes, by what they show: undoing, looping and scrubbing back cost
// nothing.
#include <QImage>
#include <QObject>
#include <condition_variable>
#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <thread>

#include "app/document/document.h"
#include "core/render/trust_picture.h"

namespace virga {

enum class Urgency { Now, Sharpen, Soon, Pictures, Ahead };

struct FrameRequest {
    Snapshot project;
    std::int64_t frame = 0;
    QSize size;
    Quality quality;
    Urgency urgency = Urgency::Now;
};

struct FrameResult {
    std::int64_t frame = 0;
    Quality quality;
    QImage image; // RGBX, null on an error
    std::optional<Error> error;
    Snapshot project;        // that it shows
    double milliseconds = 0; // that rendering took; 0 where it was kept
};

/// A text that a picture carries where made-up pictures in it are mixed until their flow is known.
inline const QString mixedForNow = QStringLiteral("mixed-for-now");

class FrameService : public QObject {
    Q_OBJECT
public:
    explicit FrameService(QObject* parent = nullptr);
    ~FrameService() override;

    /// Delivers a kept frame at once (before returning), or later from the thread.
    void request(const QString& slot, const FrameRequest& request);
    /// Takes back what waits in slots that begin so.
    void drop(const QString& slotPrefix);
    /// A kept frame, or a null image.
    QImage kept(const FrameRequest& request);
    /// Of every frame of the reel whether it is kept as asked for; the request's own frame counts for nothing. From any
    /// thread.
    std::vector<bool> allKept(const FrameRequest& request) const;
    bool isIdle();
    /// Flow of shots was found on disk or made there: quick pictures that were mixed for want of it are rendered anew.
    void flowFound() { ++m_flowKnown; }
    /// Where the shots' flow is kept; before anything is asked for.
    void keepFlowIn(const std::filesystem::path& folder, std::uintmax_t most) { m_pool.flow().keepIn(folder, most); }
    /// As trustPicture, with the pictures that are kept here. Slow: not on the interface's thread.
    TrustPicture trustOf(const Project& project, std::int64_t frame, Size size) {
        return trustPicture(project, frame, size, m_pool);
    }
    /// How much may be kept, of finished frames and of the shots' pictures together, in bytes.
    void setBudget(std::size_t bytes);
    /// What is kept of both.
    std::size_t bytes() const { return m_frames.bytes() + m_pool.bytes(); }
    /// What the program takes where nothing else was set: an eighth of the machine's memory, at most half a gigabyte.
    static std::size_t usualBudget();
    /// As SourcePool's, from the next picture on.
    void useProxy(const std::filesystem::path& path, bool deinterlace, const std::filesystem::path& proxy);
    /// Files open at this moment; those that nobody asks for are closed within a minute.
    std::size_t openFiles() { return m_pool.openFiles(); }
    /// Forgets everything known of a file.
    void forget(const std::filesystem::path& file);

signals:
    void ready(const QString& slot, const virga::FrameResult& result);
    void idle();

private:
    struct Waiting {
        FrameRequest request;
        std::uint64_t order = 0;
    };
    void run();
    void addChore(std::function<void()> chore);
    bool isMixedForNow(const FrameRequest& request, const FramePlan& plan);
    std::uint64_t keyOf(const FrameRequest& request, const FramePlan& plan) const;

    SourcePool m_pool;
    std::atomic<int> m_flowKnown = 0; // how often more of it was
    std::size_t m_budget = 0;
    BoundedCache<QImage> m_frames{0};
    std::mutex m_mutex;
    std::condition_variable m_wake;
    std::map<QString, Waiting> m_waiting;
    std::vector<std::function<void()>> m_chores; // for the thread, before its next picture
    QString m_running;
    FrameRequest m_runningRequest;
    bool m_preempted = false;
    Cancel m_cancel;
    std::uint64_t m_order = 0;
    int m_undelivered = 0;
    bool m_stop = false;
    std::thread m_thread;
};

QImage toImage(const Image<Rgba8>& picture);

} // namespace virga

Q_DECLARE_METATYPE(virga::FrameResult)
