#pragma once
// The open project and all that works for it behind the views. Each member knows those above it and none below.
#include "app/document/autosave.h"
#include "app/document/document.h"
#include "app/document/recipe_shelf.h"
#include "app/export/export_queue.h"
#include "app/playback/player.h"
#include "app/playback/ready_frames.h"
#include "app/services/bars_watch.h"
#include "app/services/flow_watch.h"
#include "app/services/frame_service.h"
#include "app/services/in_betweens.h"
#include "app/services/media_shelf.h"
#include "app/services/proxies.h"
#include "app/services/shot_ends_watch.h"
#include "app/services/shots_watch.h"
#include "app/services/thumbnails.h"
#include "app/services/waveform.h"

namespace virga {

class Services {
public:
    Services();
    Services(const Services&) = delete;
    Services& operator=(const Services&) = delete;

    Document document;
    FrameService frames;
    Proxies proxies{&document, &frames};
    InBetweens inBetweens{&document, &frames};
    Thumbnails thumbnails;
    Waveforms waveforms;
    MediaShelf shelf{&document};
    RecipeShelf recipes;
    BarsWatch bars{&document};
    ShotEndsWatch shotEnds{&document};
    ShotsWatch shots{&document};
    FlowWatch flow{&document};
    Player player{&document, &frames};
    ReadyFrames ready{&document, &frames, &player};
    Autosave autosave{&document};
    ExportQueue exports;

    /// Bytes of pictures kept in memory at most, all of the window's together; and what is kept now.
    void setMemory(std::size_t bytes);
    std::size_t memory() const { return m_memory; }
    std::size_t memoryUsed() const { return frames.bytes() + thumbnails.bytes(); }
    /// A file is another one now, or may be.
    void forget(const QString& file);
    /// True while nothing is rendered, measured or checked.
    bool isIdle();
    /// Tells nobody anything any more: views are about to go.
    void silence();

private:
    std::size_t m_memory = 0;
};

} // namespace virga
