#pragma once
// Runs one test with each set of instructions that this machine has.
#include <gtest/gtest.h>
#include <hwy/targets.h>
#include <vector>

namespace virga {

class EveryTarget : public testing::Test {
protected:
    void SetUp() override {
        for (const std::int64_t target : hwy::SupportedAndGeneratedTargets()) m_targets.push_back(target);
        ASSERT_FALSE(m_targets.empty());
    }
    void TearDown() override { use(0); }
    static void use(std::int64_t target) {
        hwy::SetSupportedTargetsForTest(target);
        hwy::GetChosenTarget().Update(hwy::SupportedTargets());
    }
    std::vector<std::int64_t> m_targets;
};

} // namespace virga
