// Memory refused: at every single place where drawing a frame, reading a project or checking its movement asks for
// some, in turn. Each time an error comes out, not an end; and what was at work goes on working afterwards.
#include <atomic>
#include <cstdlib>
#include <gtest/gtest.h>
#include <new>

#include "core/base/guard.h"
#include "core/check/flow.h"
#include "core/edit/layer_edits.h"
#include "core/edit/move_edits.h"
#include "core/project/project_file.h"
#include "core/project/project_json.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace {

std::atomic<long> countdown{-1}; // the allocation that is refused, from now; below zero: none
std::atomic<bool> refused{false};

void* ask(std::size_t size, std::size_t alignment) {
    if (countdown.load(std::memory_order_relaxed) >= 0 && countdown.fetch_sub(1) == 0) {
        refused = true;
        throw std::bad_alloc();
    }
    void* memory = alignment > alignof(std::max_align_t)
                       ? std::aligned_alloc(alignment, (size + alignment - 1) / alignment * alignment)
                       : std::malloc(size ? size : 1);
    if (!memory) throw std::bad_alloc();
    return memory;
}

} // namespace

void* operator new(std::size_t size) {
    return ask(size, 0);
}
void* operator new[](std::size_t size) {
    return ask(size, 0);
}
void* operator new(std::size_t size, std::align_val_t alignment) {
    return ask(size, std::size_t(alignment));
}
void* operator new[](std::size_t size, std::align_val_t alignment) {
    return ask(size, std::size_t(alignment));
}
void operator delete(void* memory) noexcept {
    std::free(memory);
}
void operator delete[](void* memory) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept {
    std::free(memory);
}
void operator delete[](void* memory, std::size_t) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::align_val_t) noexcept {
    std::free(memory);
}
void operator delete[](void* memory, std::align_val_t) noexcept {
    std::free(memory);
}
void operator delete(void* memory, std::size_t, std::align_val_t) noexcept {
    std::free(memory);
}
void operator delete[](void* memory, std::size_t, std::align_val_t) noexcept {
    std::free(memory);
}

namespace virga {
namespace {

using namespace test;

/// Does the work with its first, second, third, ... allocation refused, until none is. Returns how many there were.
/// What came of each is handed to `look`, with no fault any more.
template <typename Work, typename Look> int refuseEach(const Work& work, const Look& look, long step = 1) {
    int places = 0;
    for (long n = 0;; n += step, ++places) {
        refused = false;
        countdown = n;
        auto result = guarded("the work", work);
        countdown = -1;
        if (!refused) return places;
        look(result, n);
        if (testing::Test::HasFatalFailure() || places > 200000) return places;
    }
}

class NoMemory : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "a.mp4", {96, 54}, 25, 75);
        writeNumberedClip(m_folder / "b.mp4", {96, 54}, 25, 75, 11);
        m_project = plungeProject(m_folder / "a.mp4", m_folder / "b.mp4");
        m_project.settings.size = {96, 54};
        for (Media& media : m_project.media) media.size = {96, 54};
        // Everything that a frame can have: a lens, finishing, a clip above, an adjustment.
        for (const MoveKind kind : {MoveKind::Warp, MoveKind::Glow, MoveKind::Blur, MoveKind::Vignette})
            m_project = withMoveAdded(m_project, {StackPlace::Cut, 0}, kind);
        m_project = withOverlayAdded(m_project, "media-2", 20);
        m_project = withAdjustmentAdded(m_project, 18, 10);
    }
    TemporaryFolder m_folder;
    Project m_project;
};

TEST_F(NoMemory, ARefusedFrameIsAnErrorAndTheNextOneIsRight) {
    SourcePool pool;
    const auto frame = [&] { return renderFrame(m_project, 24, m_project.settings.size, exactQuality, pool); };
    const auto right = frame();
    ASSERT_TRUE(right) << describe(right.error());
    int errors = 0, all = 0;
    const int places = refuseEach(frame, [&](const auto& result, long n) {
        ++all;
        errors += !result;
        if (result) // it could do without
            EXPECT_EQ(compare(result->view(), right->view()).most, 0) << "allocation " << n;
        if (n % 16 == 0) {
            const auto again = frame();
            ASSERT_TRUE(again) << "after allocation " << n << ": " << describe(again.error());
            ASSERT_EQ(compare(again->view(), right->view()).most, 0) << "after allocation " << n;
        }
    });
    std::printf("drawing a frame: %d places refused, %d errors\n", places, errors);
    EXPECT_GT(places, 100);
    EXPECT_GT(errors, places / 2);
    EXPECT_EQ(compare(frame()->view(), right->view()).most, 0);
}

TEST_F(NoMemory, OpeningTheShotsToo) {
    const auto cold = [&] {
        SourcePool pool; // opens the files anew
        return renderFrame(m_project, 30, m_project.settings.size, exactQuality, pool);
    };
    const auto right = cold();
    ASSERT_TRUE(right);
    const int places = refuseEach(
        cold,
        [&](const auto& result, long n) {
            if (result) EXPECT_EQ(compare(result->view(), right->view()).most, 0) << "allocation " << n;
        },
        7);
    std::printf("opening and drawing: %d places refused\n", places);
    EXPECT_GT(places, 50);
    EXPECT_EQ(compare(cold()->view(), right->view()).most, 0);
}

// Reading and writing JSON is left out: nlohmann's documents ask for memory while they are destroyed, where nothing may
// be thrown, and end the program when they get none.

TEST_F(NoMemory, TheCheckIsDoneOrNot) {
    const auto check = [&] { return flowAtCut(m_project, 0); };
    const auto right = check();
    const int places = refuseEach(
        check,
        [&](const auto& result, long n) {
            if (result) EXPECT_EQ(result->findings.size(), right.findings.size()) << "allocation " << n;
        },
        29);
    EXPECT_GT(places, 50);
}

} // namespace
} // namespace virga
