#include "tests/support/cases.h"

#include <unistd.h>

#include <atomic>
#include <chrono>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <gtest/gtest.h>
#include <thread>

namespace virga::test {
namespace {

char running[512] = "";           // the case that runs; read in signal handlers
std::atomic<long long> begun{-1}; // milliseconds of the steady clock; below 0: none runs

long long now() {
    using namespace std::chrono;
    return duration_cast<milliseconds>(steady_clock::now().time_since_epoch()).count();
}

void tellCase(const char* what) {
    for (const char* part : {"\n", what, " in the case ", static_cast<const char*>(running), "\n"})
        (void)!::write(STDERR_FILENO, part, std::strlen(part));
}

void onSignal(int signal) {
    tellCase(signal == SIGTERM ? "ended" : "crashed");
    std::signal(signal, SIG_DFL);
    ::raise(signal);
}

class Names : public testing::EmptyTestEventListener {
    void OnTestStart(const testing::TestInfo& info) override {
        std::snprintf(running, sizeof running, "%s.%s", info.test_suite_name(), info.name());
        begun = now();
    }
    void OnTestEnd(const testing::TestInfo&) override { begun = -1; }
};

int allowed() {
    const char* text = std::getenv("VIRGA_LONGEST_CASE"); // long runs by hand; sanitizers
    return text ? std::atoi(text) : longestCase;
}

} // namespace

void watchCases() {
    testing::UnitTest::GetInstance()->listeners().Append(new Names);
    for (const int signal : {SIGSEGV, SIGABRT, SIGBUS, SIGFPE, SIGILL, SIGTERM})
        if (std::signal(signal, onSignal) == SIG_IGN) std::signal(signal, SIG_IGN);
    std::thread([most = allowed()] {
        for (;;) {
            std::this_thread::sleep_for(std::chrono::seconds(1));
            const long long since = begun;
            if (since < 0 || now() - since < most * 1000LL) continue;
            tellCase("too long");
            ::_exit(124);
        }
    }).detach();
}

} // namespace virga::test
