#include "core/base/bounded_cache.h"

#include <gtest/gtest.h>
#include <thread>
#include <vector>

#include "core/render/source_pool.h"
#include "tests/support/clips.h"

namespace virga::cache_test {
namespace {

TEST(BoundedCache, ForgetsWhatWasLongestNotAskedFor) {
    BoundedCache<int> cache(100);
    for (int i = 0; i < 10; ++i) cache.put(std::uint64_t(i), std::make_shared<const int>(i), 10);
    EXPECT_TRUE(cache.find(0));
    cache.put(10, std::make_shared<const int>(10), 10);
    EXPECT_TRUE(cache.contains(0)) << "asked for just now";
    EXPECT_FALSE(cache.contains(1));
    EXPECT_EQ(cache.bytes(), 100u);
    cache.put(11, std::make_shared<const int>(0), 1000);
    EXPECT_FALSE(cache.contains(11)) << "larger than the whole cache";
    cache.put(5, std::make_shared<const int>(55), 30);
    EXPECT_EQ(*cache.find(5), 55);
    EXPECT_LE(cache.bytes(), 100u);
    cache.clear();
    EXPECT_EQ(cache.bytes(), 0u);
}

TEST(BoundedCache, HoldsUnderManyThreads) {
    BoundedCache<int> cache(1000);
    std::vector<std::thread> threads;
    for (int t = 0; t < 4; ++t)
        threads.emplace_back([&cache, t] {
            for (int i = 0; i < 5000; ++i) {
                const auto key = std::uint64_t((i * 7 + t) % 300);
                if (const auto v = cache.find(key))
                    EXPECT_EQ(*v, int(key));
                else
                    cache.put(key, std::make_shared<const int>(int(key)), 10);
            }
        });
    for (auto& t : threads) t.join();
    EXPECT_LE(cache.bytes(), 1000u);
}

TEST(SourcePool, StaysWithinItsBytesAndForgetsFiles) {
    test::TemporaryFolder folder;
    test::writeNumberedClip(folder / "a.mp4", {320, 180}, 25, 40);
    SourcePool pool(4 << 20);
    for (int i = 0; i < 40; ++i) {
        const auto picture = pool.picture(folder / "a.mp4", Rational(i, 25));
        ASSERT_TRUE(picture);
        EXPECT_EQ(test::numberIn((*picture)->level(0)), i);
        EXPECT_LE(pool.bytes(), std::size_t(4) << 20);
    }
    EXPECT_EQ(pool.picture(folder / "a.mp4", Rational(39, 25)).value(),
              pool.picture(folder / "a.mp4", Rational(39, 25)).value())
        << "kept";
    std::filesystem::remove(folder / "a.mp4");
    pool.forget(folder / "a.mp4");
    EXPECT_FALSE(pool.picture(folder / "a.mp4", 0));
    test::writeNumberedClip(folder / "a.mp4", {320, 180}, 25, 4);
    EXPECT_FALSE(pool.picture(folder / "a.mp4", 0)) << "an error is remembered until the file is forgotten";
    pool.forget(folder / "a.mp4");
    EXPECT_TRUE(pool.picture(folder / "a.mp4", 0));
}

} // namespace
} // namespace virga::cache_test
