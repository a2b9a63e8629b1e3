#include "app/services/frame_service.h"

#include <algorithm>
#include <chrono>
#include <cstring>
#include <unistd.h>

#include "core/base/guard.h"
#include "core/base/hash.h"
#include "core/plan/plan.h"
#include "core/render/exposure.h"

namespace virga {

QImage toImage(const Image<Rgba8>& picture) {
    QImage image(picture.width(), picture.height(), QImage::Format_RGBX8888);
    for (int y = 0; y < picture.height(); ++y) {
        std::memcpy(image.scanLine(y), picture.row(y), std::size_t(picture.width()) * 4);
        for (int x = 0; x < picture.width(); ++x) image.scanLine(y)[4 * x + 3] = 255; // colour is over black already
    }
    return image;
}

std::size_t FrameService::usualBudget() {
    const long pages = sysconf(_SC_PHYS_PAGES), bytes = sysconf(_SC_PAGESIZE);
    const std::size_t all = pages > 0 && bytes > 0 ? std::size_t(pages) * std::size_t(bytes) : std::size_t(4) << 30;
    return std::clamp(all / 8, std::size_t(192) << 20,
                      std::size_t(400) << 20); // beside it stands what the program takes: a gigabyte for all
}

// Finished frames are what loops and undoing ask for; the shots' pictures are read again sooner.
void FrameService::setBudget(std::size_t bytes) {
    m_budget = bytes;
    m_frames.setMost(bytes / 2);
    m_pool.setMost(bytes - bytes / 2);
}

FrameService::FrameService(QObject* parent) : QObject(parent) {
    setBudget(usualBudget());
    qRegisterMetaType<FrameResult>("virga::FrameResult");
    m_thread = std::thread([this] { run(); });
}

FrameService::~FrameService() {
    {
        const std::lock_guard lock(m_mutex);
        m_stop = true;
        m_cancel.request();
        m_waiting.clear();
    }
    m_wake.notify_all();
    m_thread.join();
}

std::uint64_t FrameService::keyOf(const FrameRequest& r, const FramePlan& plan) const {
    Hash hash;
    hash.add(hashOf(plan))
        .add(r.size.width())
        .add(r.size.height())
        .add(r.quality.pixelsPerSample)
        .add(r.quality.mostSamples)
        .add(r.quality.mostPictures)
        .add(r.quality.enlarging)
        .add(r.quality.finishing)
        .add(r.quality.overlays)
        .add(r.quality.blur)
        .add(r.quality.proxies);
    for (const LayerPlan& layer : plan.layers) {
        if (const Media* media = findMedia(*r.project, layer.mediaId)) hash.add(std::string_view(media->path.native()));
        if (needsOpticalFlow(layer.inBetween, layer.shotBlur) && !r.quality.findsFlow) hash.add(m_flowKnown.load());
    }
    return hash.value();
}

// Whether a quick picture lacks flow that is not known yet. On the service's thread: it looks for files.
bool FrameService::isMixedForNow(const FrameRequest& r, const FramePlan& plan) {
    if (r.quality.findsFlow) return false;
    for (const LayerPlan& layer : plan.layers)
        if (const Media* media = findMedia(*r.project, layer.mediaId))
            if (m_pool.missingFlow(media->path, layer.sourceTime, lookOf(layer, exactQuality))) return true;
    return false;
}

QImage FrameService::kept(const FrameRequest& request) {
    const auto image = m_frames.find(keyOf(request, planFrame(*request.project, request.frame)));
    return image ? *image : QImage();
}

std::vector<bool> FrameService::allKept(const FrameRequest& request) const {
    const ReelIndex index = reelIndex(*request.project);
    std::vector<bool> out(std::size_t(index.starts.back()));
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = m_frames.contains(keyOf(request, planFrame(*request.project, index, std::int64_t(i))));
    return out;
}

void FrameService::request(const QString& slot, const FrameRequest& request) {
    if (request.size.isEmpty()) return;
    if (const QImage image = kept(request); !image.isNull()) {
        {
            const std::lock_guard lock(m_mutex);
            m_waiting.erase(slot);
        }
        emit ready(slot, {request.frame, request.quality, image, std::nullopt, request.project, 0});
        return;
    }
    {
        const std::lock_guard lock(m_mutex);
        m_waiting[slot] = {request, m_order++};
        if (!m_running.isEmpty()) {
            // A slow picture that nobody waits for any more is stopped; a quick one is let through, so that something
            // is always seen while dragging.
            const bool replaced = m_running == slot && m_runningRequest.quality.mostSamples > quickQuality.mostSamples;
            const bool moreUrgent = request.urgency < m_runningRequest.urgency && m_running != slot;
            if (replaced || moreUrgent) {
                m_preempted = moreUrgent;
                m_cancel.request();
            }
        }
    }
    m_wake.notify_one();
}

void FrameService::drop(const QString& slotPrefix) {
    const std::lock_guard lock(m_mutex);
    std::erase_if(m_waiting, [&](const auto& entry) { return entry.first.startsWith(slotPrefix); });
    if (!m_running.isEmpty() && m_running.startsWith(slotPrefix)) {
        m_preempted = false; // it is not wanted again
        m_cancel.request();
    }
}

bool FrameService::isIdle() {
    const std::lock_guard lock(m_mutex);
    return m_waiting.empty() && m_running.isEmpty() && m_undelivered == 0;
}

void FrameService::forget(const std::filesystem::path& file) {
    m_frames.clear();
    addChore([this, file] { // closing a decoder takes its time
        m_pool.forget(file);
        m_frames.clear(); // one that was under way
    });
}

void FrameService::useProxy(const std::filesystem::path& path, bool deinterlace, const std::filesystem::path& proxy) {
    addChore([this, path, deinterlace, proxy] { m_pool.useProxy(path, deinterlace, proxy); });
}

void FrameService::addChore(std::function<void()> chore) {
    {
        const std::lock_guard lock(m_mutex);
        m_chores.push_back(std::move(chore));
    }
    m_wake.notify_one();
}

void FrameService::run() {
    constexpr auto closeEvery = std::chrono::seconds(20);
    auto closed = std::chrono::steady_clock::now();
    std::unique_lock lock(m_mutex);
    while (true) {
        const bool woken =
            m_wake.wait_for(lock, closeEvery, [this] { return m_stop || !m_waiting.empty() || !m_chores.empty(); });
        if (m_stop) return;
        if (!woken || std::chrono::steady_clock::now() - closed > closeEvery) {
            lock.unlock();
            m_pool.closeUnused();
            lock.lock();
            closed = std::chrono::steady_clock::now();
        }
        if (const auto chores = std::exchange(m_chores, {}); !chores.empty()) {
            lock.unlock();
            for (const auto& chore : chores) chore();
            lock.lock();
        }
        if (m_waiting.empty()) continue;
        const auto next = std::min_element(m_waiting.begin(), m_waiting.end(), [](const auto& a, const auto& b) {
            return std::pair(a.second.request.urgency, a.second.order) <
                   std::pair(b.second.request.urgency, b.second.order);
        });
        m_running = next->first;
        m_runningRequest = next->second.request;
        const auto order = next->second.order;
        m_waiting.erase(next);
        m_cancel = Cancel();
        m_preempted = false;
        const FrameRequest request = m_runningRequest;
        const Cancel cancel = m_cancel;
        const QString slot = m_running;
        lock.unlock();

        const Size size{request.size.width(), request.size.height()};
        const auto begun = std::chrono::steady_clock::now();
        FrameResult result{request.frame, request.quality, {}, std::nullopt, request.project, 0};
        const FramePlan plan = planFrame(*request.project, request.frame);
        const std::uint64_t key = keyOf(request, plan); // flow that is found meanwhile makes another picture of it
        const bool mixed = isMixedForNow(request, plan);
        auto picture =
            guarded({}, [&] { return renderPlan(*request.project, plan, size, request.quality, m_pool, cancel); });
        if (picture) {
            result.image = toImage(*picture);
            if (mixed) result.image.setText(mixedForNow, QStringLiteral("1"));
            m_frames.put(key, std::make_shared<const QImage>(result.image), std::size_t(result.image.sizeInBytes()));
        } else {
            result.error = picture.error();
        }

        result.milliseconds =
            std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count();
        lock.lock();
        m_running.clear();
        const bool cancelled = result.error && result.error->code == ErrorCode::Cancelled;
        if (cancelled && m_preempted && !m_waiting.contains(slot)) m_waiting[slot] = {request, order};
        if (!cancelled) ++m_undelivered;
        if (!cancelled)
            QMetaObject::invokeMethod(this, [this, slot, result] {
                {
                    const std::lock_guard inner(m_mutex);
                    --m_undelivered;
                }
                emit ready(slot, result);
                if (isIdle()) emit idle();
            });
    }
}

} // namespace virga
