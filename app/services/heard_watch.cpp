#include "app/services/heard_watch.h"

#include <algorithm>

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "app/services/job.h"
#include "core/audio/heard.h"

namespace virga {
namespace {

constexpr std::int64_t pieceFrames = 400;
constexpr int pause = 60; // ms, after a change

} // namespace

HeardWatch::HeardWatch(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    m_next.setSingleShot(true);
    m_next.setInterval(pause);
    connect(&m_next, &QTimer::timeout, this, &HeardWatch::findNext);
    connect(document, &Document::opened, this, [this] { m_pieces.clear(); });
    connect(document, &Document::projectChanged, this, [this] {
        if (m_to > m_from && m_document->project()->settings.heard.on) m_next.start();
    });
}

HeardWatch::~HeardWatch() {
    m_cancel.request();
}

void HeardWatch::want(std::int64_t from, std::int64_t to) {
    if (to - from > mostFrames || !m_document->project()->settings.heard.on) from = to = 0;
    if (from == m_from && to == m_to) return;
    m_from = from, m_to = to;
    std::erase_if(m_pieces, [&](const auto& piece) {
        return (piece.first + 1) * pieceFrames < m_from - mostFrames || piece.first * pieceFrames > m_to + mostFrames;
    });
    if (!m_busy && m_to > m_from) m_next.start();
}

double HeardWatch::strengthAt(std::int64_t frame) const {
    const auto piece = m_pieces.find(frame / pieceFrames);
    const auto at = std::size_t(std::max<std::int64_t>(0, frame) % pieceFrames);
    return piece != m_pieces.end() && at < piece->second.strengths.size() ? double(piece->second.strengths[at]) : 0;
}

void HeardWatch::findNext() {
    if (m_busy || m_to <= m_from || !m_document->project()->settings.heard.on) return;
    const Snapshot project = m_document->project();
    std::int64_t piece = m_from / pieceFrames;
    const auto isKnown = [&](std::int64_t n) {
        const auto at = m_pieces.find(n);
        return at != m_pieces.end() && at->second.of == project;
    };
    while (piece * pieceFrames < m_to && isKnown(piece)) ++piece;
    if (piece * pieceFrames >= m_to) return;
    m_busy = true;
    inBackground(
        this,
        [project, from = piece * pieceFrames, cancel = m_cancel] {
            beNice();
            std::vector<float> strengths;
            if (cancel.requested()) return strengths;
            const HeardCourse course(*project, from, from + pieceFrames);
            for (std::int64_t i = 0; i < pieceFrames; ++i)
                strengths.push_back(float(course.strengthAt(double(from + i))));
            return strengths;
        },
        [this, project, piece](std::vector<float> strengths) {
            m_busy = false;
            m_pieces[piece] = {project, std::move(strengths)};
            emit changed();
            findNext();
        },
        Job::threads(), [this](const Error&) { m_busy = false; });
}

} // namespace virga
