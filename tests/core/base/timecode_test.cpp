#include "core/base/timecode.h"

#include <gtest/gtest.h>
extern "C" {
#include <libavutil/timecode.h>
}

namespace virga::timecode_test {
namespace {

TEST(Timecode, CountsWholeRates) {
    EXPECT_EQ(timecodeOfFrame(243, 25), "00:00:09:18");
    EXPECT_EQ(timecodeOfFrame(0, 24), "00:00:00:00");
    EXPECT_EQ(timecodeOfFrame(-1, 25), "-00:00:00:01");
    EXPECT_EQ(frameOfTimecode("01:00:00:00", 25).value(), 90000);
}

// SMPTE ST 12-1: at 29.97 drop-frame the numbers 0 and 1 are left out in each minute but every tenth.
TEST(Timecode, DropsNumbersAsSmpteSt12Prescribes) {
    const FrameRate ntsc(30000, 1001);
    EXPECT_EQ(timecodeOfFrame(1799, ntsc), "00:00:59;29");
    EXPECT_EQ(timecodeOfFrame(1800, ntsc), "00:01:00;02");
    EXPECT_EQ(timecodeOfFrame(17982, ntsc), "00:10:00;00");
    EXPECT_EQ(frameOfTimecode("00:01:00;02", ntsc).value(), 1800);
    EXPECT_FALSE(frameOfTimecode("00:01:00;00", ntsc)) << "a number that is left out";
    EXPECT_TRUE(frameOfTimecode("00:10:00;00", ntsc));
}

// libavutil's av_timecode as a second implementation of the same standard.
TEST(Timecode, AgreesWithLibavutil) {
    for (const FrameRate rate : {Rational(25), Rational(24), Rational(30000, 1001), Rational(60000, 1001)}) {
        AVTimecode reference{};
        ASSERT_EQ(av_timecode_init(&reference, {int(rate.num), int(rate.den)},
                                   usesDropFrame(rate) ? AV_TIMECODE_FLAG_DROPFRAME : 0, 0, nullptr),
                  0);
        for (int frame = 0; frame < 200000; frame += 97) {
            char text[AV_TIMECODE_STR_SIZE];
            av_timecode_make_string(&reference, text, frame);
            ASSERT_EQ(timecodeOfFrame(frame, rate), text) << frame;
            ASSERT_EQ(frameOfTimecode(text, rate).value(), frame);
        }
    }
}

TEST(Timecode, RefusesWhatIsNone) {
    for (const char* bad :
         {"", "1", "00:00:00", "00:61:00:00", "00:00:61:00", "00:00:00:25", "aa:bb:cc:dd", "00:00:00:00x"})
        EXPECT_FALSE(frameOfTimecode(bad, 25)) << bad;
}

} // namespace
} // namespace virga::timecode_test
