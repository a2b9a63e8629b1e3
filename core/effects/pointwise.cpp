#include "core/effects/pointwise.h"

#include <algorithm>
#include <cmath>

#include "core/raster/four.h"
#include "core/raster/transfer.h"

namespace virga {
namespace {

using four::Floats;

// How much of a pixel row or column of n lies under bars that leave the middle `open` of them free.
float underBars(int pixel, double n, double open) {
    const double from = (n - open) / 2, to = from + open;
    return float(1 - std::clamp(std::min(to, pixel + 1.0) - std::max(from, double(pixel)), 0.0, 1.0));
}

} // namespace

bool isPointwise(const Treatment& treatment) {
    return std::holds_alternative<Light>(treatment) || std::holds_alternative<Vignette>(treatment) ||
           std::holds_alternative<Bars>(treatment);
}

Pointwise::Pointwise(const Treatment& treatment, Size frame) : m_treatment(treatment), m_frame(frame) {
    const Vignette* v = std::get_if<Vignette>(&m_treatment);
    if (!v) return;
    // The superellipse |x|^p + |y|^p = size^p: p = 2 is an ellipse, a large p nearly the frame's rectangle.
    m_power = 2 / std::clamp(v->roundness, 0.1, 1.0);
    for (std::size_t c = 0; c < 3; ++c) m_colour[c] = float(linearFromCode(v->colour[c]));
    if (m_power == 2) return; // an ellipse needs no table
    const double reach = 1 + 2 * std::max(std::abs(v->centre.x - 0.5), std::abs(v->centre.y - 0.5)) + 0.4;
    m_largest = 2 * std::pow(reach, m_power);
    m_falloff.resize(4097);
    for (std::size_t i = 0; i < m_falloff.size(); ++i) {
        // Square steps: the falloff changes fastest where the sum is small.
        const double t = double(i) / double(m_falloff.size() - 1);
        m_falloff[i] = float(falloffAt(m_largest * t * t));
    }
}

double Pointwise::falloffAt(double powers) const {
    const Vignette& v = std::get<Vignette>(m_treatment);
    const double radius = std::pow(powers, 1 / m_power);
    const double t = std::clamp((radius - (v.size - v.feather / 2)) / std::max(v.feather, 1e-6), 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

void Pointwise::treatVignette(LinearF* pixels, int count, int x, int y) const {
    const Vignette& v = std::get<Vignette>(m_treatment);
    const auto amount = float(v.amount), steps = float(m_falloff.size() - 1);
    const auto ny = float(std::abs((y + 0.5 - v.centre.y * m_frame.height) / (m_frame.height / 2.0)));
    const auto scale = float(2.0 / m_frame.width), start = float(x + 0.5 - v.centre.x * m_frame.width) * scale;
    const float from = float(v.size - v.feather / 2), each = float(1 / std::max(v.feather, 1e-6));
    const bool round = m_power == 2;
    const float py = round ? ny * ny : std::pow(ny, float(m_power));
    const Floats colour = {m_colour[0], m_colour[1], m_colour[2], 1};
    constexpr int together = 256;
    float share[together];
    for (int done = 0; done < count; done += together) {
        const int n = std::min(together, count - done);
        if (round) // an ellipse needs no table, and is done in vectors
            for (int i = 0; i < n; ++i) {
                const float nx = start + float(done + i) * scale;
                const float t = std::clamp((std::sqrt(nx * nx + py) - from) * each, 0.0f, 1.0f);
                share[i] = t * t * (3 - 2 * t) * amount;
            }
        else
            for (int i = 0; i < n; ++i) {
                const float powers = std::pow(std::abs(start + float(done + i) * scale), float(m_power)) + py;
                const float at = std::min(1.0f, std::sqrt(powers / float(m_largest))) * steps;
                const auto k = std::min(std::size_t(at), m_falloff.size() - 2);
                share[i] = (m_falloff[k] + (m_falloff[k + 1] - m_falloff[k]) * (at - float(k))) * amount;
            }
        LinearF* p = pixels + done;
        for (int i = 0; i < n; ++i) {
            // Towards the colour, or lighter; alpha stays.
            const Floats now = four::load(p[i]), alpha = {p[i].a, p[i].a, p[i].a, p[i].a};
            four::store(amount > 0 ? now + (colour * alpha - now) * share[i]
                                   : now - (now - Floats{0, 0, 0, p[i].a}) * share[i],
                        p[i]);
        }
    }
}

void Pointwise::treatBars(LinearF* pixels, int count, int x, int y) const {
    const Bars& bars = std::get<Bars>(m_treatment);
    const double width = m_frame.width, height = m_frame.height;
    const double free = std::min(width, height * bars.ratio), freeHigh = std::min(height, width / bars.ratio);
    const double openWidth = width + (free - width) * bars.amount,
                 openHeight = height + (freeHigh - height) * bars.amount;
    const float rows = underBars(y, height, openHeight);
    for (int i = 0; i < count; ++i) {
        const float under = std::max(rows, underBars(x + i, width, openWidth));
        if (under <= 0) continue;
        const Floats p = four::load(pixels[i]) * (1 - under);
        four::store(p + Floats{0, 0, 0, under}, pixels[i]);
    }
}

void Pointwise::treat(LinearF* pixels, int count, int x, int y) const {
    if (const Light* light = std::get_if<Light>(&m_treatment)) {
        const auto factor = float(std::exp2(light->stops));
        const Floats factors = {factor, factor, factor, 1};
        for (int i = 0; i < count; ++i) four::store(four::load(pixels[i]) * factors, pixels[i]);
    } else if (std::holds_alternative<Vignette>(m_treatment)) {
        treatVignette(pixels, count, x, y);
    } else {
        treatBars(pixels, count, x, y);
    }
}

} // namespace virga
