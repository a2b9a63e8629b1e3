#include "core/base/shared_list.h"

#include <gtest/gtest.h>
#include <numeric>
#include <random>
#include <string>
#include <thread>

namespace virga::shared_list_test {
namespace {

using Words = SharedList<std::string>;

const void* place(const Words& words, std::size_t i) {
    return &words[i];
}

TEST(SharedList, CopiesShareWhatIsNotChanged) {
    Words a{"zoom", "spin", "slide"};
    Words b = a;
    for (std::size_t i = 0; i < 3; ++i) EXPECT_EQ(place(a, i), place(b, i));
    b[1] += "ning";
    EXPECT_EQ(a[1], "spin");
    EXPECT_EQ(b[1], "spinning");
    EXPECT_EQ(place(a, 0), place(b, 0));
    EXPECT_NE(place(a, 1), place(b, 1));
    EXPECT_EQ(place(a, 2), place(b, 2));
    EXPECT_FALSE(a == b);
    b[1] = "spin";
    EXPECT_TRUE(a == b) << "equal though they lie elsewhere";
}

TEST(SharedList, WhatIsItsOwnIsChangedWhereItLies) {
    Words a{"zoom"};
    const void* const before = place(a, 0);
    a[0] = "spin";
    EXPECT_EQ(place(a, 0), before);
    {
        const Words b = a;
        EXPECT_EQ(place(b, 0), before);
    }
    a[0] = "slide"; // the other one is gone
    EXPECT_EQ(place(a, 0), before);
}

TEST(SharedList, EveryWayToAnElementThatCanBeChangedMakesItItsOwn) {
    const Words a{"a", "b", "c", "d", "e"};
    Words b = a;
    b.front() = "A";
    b.back() = "E";
    *(b.begin() + 1) = "B";
    for (std::string& word : b)
        if (word == "c") word = "C";
    b.begin()[3] = "D";
    EXPECT_TRUE(b == (Words{"A", "B", "C", "D", "E"}));
    EXPECT_TRUE(a == (Words{"a", "b", "c", "d", "e"}));
}

TEST(SharedList, ErasingAndInsertingKeepsTheOthersShared) {
    const Words a{"a", "b", "c", "d"};
    Words b = a;
    const auto next = b.erase(b.begin() + 1);
    EXPECT_EQ(*next, "c");
    b.insert(b.begin(), "first");
    EXPECT_EQ(place(b, 1), place(a, 0));
    EXPECT_EQ(place(b, 3), place(a, 3));
    EXPECT_EQ(erase_if(b, [](const std::string& word) { return word == "a"; }), 1u);
    EXPECT_TRUE(b == (Words{"first", "c", "d"}));
    Words c;
    c.insert(c.begin(), a.begin(), a.end());
    EXPECT_EQ(place(c, 2), place(a, 2)) << "from another list they are shared";
    EXPECT_TRUE(Words(b.begin(), b.end()) == b);
}

// Random work on it and on a std::vector, with copies that are kept and looked at again.
TEST(SharedList, DoesWhatAVectorDoes) {
    std::mt19937 random(5);
    SharedList<int> list;
    std::vector<int> vector;
    std::vector<std::pair<SharedList<int>, std::vector<int>>> kept;
    const auto pick = [&](std::size_t count) { return std::ptrdiff_t(random() % count); };
    for (int step = 0; step < 20000; ++step) {
        const int value = int(random() % 1000);
        const std::ptrdiff_t at = pick(vector.size() + 1), some = pick(vector.size() + 1 - std::size_t(at));
        switch (random() % 9) {
        case 0:
            list.push_back(value), vector.push_back(value);
            break;
        case 1:
            list.emplace_back(value) += 1, vector.emplace_back(value) += 1;
            break;
        case 2:
            list.insert(list.begin() + at, value), vector.insert(vector.begin() + at, value);
            break;
        case 3: {
            const std::vector<int> more{value, value + 1, value + 2};
            list.insert(list.begin() + at, more.begin(), more.end());
            vector.insert(vector.begin() + at, more.begin(), more.end());
            break;
        }
        case 4:
            if (vector.size() > 60)
                list.erase(list.begin() + at, list.begin() + at + some),
                    vector.erase(vector.begin() + at, vector.begin() + at + some);
            break;
        case 5:
            if (!vector.empty()) {
                const auto i = std::size_t(pick(vector.size()));
                list[i] = vector[i] = 7;
            }
            break;
        case 6:
            std::rotate(list.begin(), list.begin() + at, list.end());
            std::rotate(vector.begin(), vector.begin() + at, vector.end());
            break;
        case 7:
            if (step % 50 == 7) std::sort(list.begin(), list.end()), std::sort(vector.begin(), vector.end());
            break;
        case 8:
            kept.push_back({list, vector});
            if (kept.size() > 20) {
                const auto i = std::size_t(pick(kept.size()));
                list = kept[i].first, vector = kept[i].second;
            }
            if (kept.size() > 30) kept.erase(kept.begin(), kept.begin() + 10);
            break;
        }
        ASSERT_TRUE(std::equal(list.begin(), list.end(), vector.begin(), vector.end())) << "step " << step;
    }
    for (const auto& [was, is] : kept) ASSERT_TRUE(std::equal(was.begin(), was.end(), is.begin(), is.end()));
}

// Copies on threads of their own are changed and dropped while others read: each sees its own values only.
TEST(SharedList, CopiesAreUsedOnManyThreads) {
    SharedList<std::vector<int>> base;
    for (int i = 0; i < 50; ++i) base.push_back(std::vector<int>(20, i));
    std::vector<std::thread> threads;
    std::atomic<int> wrong = 0;
    for (int t = 0; t < 4; ++t)
        threads.emplace_back([mine = base, t, &wrong] {
            for (int round = 0; round < 300; ++round) {
                auto now = mine;
                for (std::size_t i = std::size_t(t); i < now.size(); i += 3) now[i].assign(20, 1000 * t + round);
                for (std::size_t i = 0; i < now.size(); ++i) {
                    const bool changed = i >= std::size_t(t) && (i - std::size_t(t)) % 3 == 0;
                    const auto& values = std::as_const(now)[i];
                    const int sum = std::accumulate(values.begin(), values.end(), 0);
                    wrong += sum != 20 * (changed ? 1000 * t + round : int(i));
                }
            }
        });
    base = {};
    for (std::thread& thread : threads) thread.join();
    EXPECT_EQ(wrong, 0);
}

} // namespace
} // namespace virga::shared_list_test
