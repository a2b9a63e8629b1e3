#include "core/interchange/imported_edit.h"

#include <algorithm>
#include <cctype>
#include <cmath>

#include "core/interchange/edit_list.h"

namespace virga {
namespace {

std::string lower(std::string s) {
    std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return char(std::tolower(c)); });
    return s;
}

} // namespace

std::string mediaNamed(const Project& project, const std::string& name) {
    const std::string wanted = lower(std::filesystem::path(name).filename().string());
    for (const Media& m : project.media)
        if (lower(m.path.filename().string()) == wanted) return m.id;
    for (const Media& m : project.media)
        if (lower(m.path.stem().string()) == wanted) return m.id;
    const auto reels = reelNames(project);
    for (std::size_t i = 0; i < reels.size(); ++i)
        if (lower(reels[i]) == wanted) return project.media[i].id;
    return {};
}

FrameRate rateFromDecimal(double rate) {
    if (!std::isfinite(rate) || rate < 1 || rate > 1000) return 25;
    const double whole = std::round(rate);
    if (std::abs(rate - whole) < 1e-6) return Rational(std::int64_t(whole));
    if (std::abs(rate - std::ceil(rate) * 1000 / 1001) < 0.005)
        return Rational(std::int64_t(std::ceil(rate)) * 1000, 1001);
    return Rational(std::llround(rate * 1000), 1000);
}

} // namespace virga
