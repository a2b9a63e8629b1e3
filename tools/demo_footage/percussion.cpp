#include "tools/demo_footage/percussion.h"

#include <cmath>

#include "core/audio/audio_reader.h"
#include "tools/demo_footage/brush.h"

namespace virga::demo {
namespace {

constexpr double tau = 6.283185307179586;

class Drums {
public:
    explicit Drums(double seconds) : m_out(std::size_t(seconds * audioRate) * audioChannels) {}

    template <typename Voice> void hit(double at, double length, double pan, double gain, Voice voice) {
        const auto first = std::size_t(std::llround(at * audioRate));
        for (std::size_t i = 0; i < std::size_t(length * audioRate) && (first + i) * 2 + 1 < m_out.size(); ++i) {
            const double v = gain * voice(double(i) / audioRate, std::uint32_t(i));
            m_out[(first + i) * 2] += float(v * std::sqrt(0.5 - pan / 2));
            m_out[(first + i) * 2 + 1] += float(v * std::sqrt(0.5 + pan / 2));
        }
    }
    void kick(double at) {
        hit(at, 0.35, 0, 0.85, [](double t, std::uint32_t) {
            return std::sin(tau * (48 * t + 7.5 * (1 - std::exp(-t * 28)))) * std::exp(-t * 11);
        });
    }
    void snare(double at) {
        hit(at, 0.22, 0.1, 0.42, [](double t, std::uint32_t i) {
            return (0.7 * (random(i, 7) * 2 - 1) + 0.5 * std::sin(tau * 190 * t)) * std::exp(-t * 22);
        });
    }
    void shaker(double at, double gain) {
        hit(at, 0.07, -0.4, gain,
            [](double t, std::uint32_t i) { return (random(i, 9) - random(i + 1, 9)) * std::exp(-t * 60); });
    }
    void block(double at, double pitch, double pan) {
        hit(at, 0.12, pan, 0.34, [pitch](double t, std::uint32_t) {
            return (std::sin(tau * pitch * t) + 0.4 * std::sin(tau * pitch * 2.7 * t)) * std::exp(-t * 42);
        });
    }
    void bell(double at) {
        hit(at, 1.6, 0.3, 0.16, [](double t, std::uint32_t) {
            return (std::sin(tau * 587 * t) + 0.6 * std::sin(tau * 1411 * t) + 0.3 * std::sin(tau * 2377 * t)) *
                   std::exp(-t * 2.6);
        });
    }
    std::vector<float> finish() {
        for (float& v : m_out) v = float(std::tanh(v * 0.9));
        return std::move(m_out);
    }

private:
    std::vector<float> m_out;
};

} // namespace

std::vector<float> percussion(int bars) {
    Drums d(bars * 2.0 + 0.5);
    for (int bar = 0; bar < bars; ++bar) {
        const double at = bar * 2.0;
        d.kick(at), d.kick(at + 1.0);
        if (bar % 2) d.kick(at + 1.75);
        d.snare(at + 0.5), d.snare(at + 1.5);
        if (bar % 4 == 3)
            for (int i = 0; i < 4; ++i) d.snare(at + 1.5 + i * 0.125);
        for (int i = 0; i < 8; ++i) d.shaker(at + i * 0.25, i % 2 ? 0.24 : 0.14);
        d.block(at + 0.25, 830, -0.5), d.block(at + 0.875, 1060, 0.5), d.block(at + 1.25, 830, -0.5);
        if (bar >= 4) d.block(at + 0.625, 1240, 0.7), d.block(at + 1.625, 930, -0.7);
        if (bar % 4 == 0) d.bell(at);
    }
    return d.finish();
}

} // namespace virga::demo
