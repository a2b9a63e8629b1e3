#pragma once
// What a finishing move does to a picture at one moment, as plain numbers: lengths in fractions of the frame's width or
// height, angles in degrees clockwise on screen, places in fractions of the frame. core/effects does it.
#include <array>
#include <tuple>
#include <variant>

#include "core/geom/screen_map.h"

namespace virga {

/// Gaussian; standard deviations in fractions of the height.
struct GaussianBlur {
    double across = 0, down = 0;
    auto tied() const { return std::tie(across, down); }
    bool operator==(const GaussianBlur&) const = default;
};
/// The mean along a line centred on each pixel.
struct LineBlur {
    double length = 0; // of the width
    double angle = 0;
    auto tied() const { return std::tie(length, angle); }
    bool operator==(const LineBlur&) const = default;
};
/// The mean over scalings from 1/sqrt(factor) to sqrt(factor), even in log2, about a centre.
struct ZoomBlur {
    double factor = 1;
    Point centre{0.5, 0.5};
    auto tied() const { return std::tie(factor, centre.x, centre.y); }
    bool operator==(const ZoomBlur&) const = default;
};
/// The mean over turns from -angle/2 to angle/2 about a centre.
struct SpinBlur {
    double angle = 0;
    Point centre{0.5, 0.5};
    auto tied() const { return std::tie(angle, centre.x, centre.y); }
    bool operator==(const SpinBlur&) const = default;
};
/// The mean under an aperture: a disc, or a regular polygon with a corner straight up.
struct Defocus {
    double radius = 0;     // of the height
    int blades = 0;        // 0 is round, else 5 to 9
    double highlights = 0; // 0 to 1: bright points are weighed by luminance^(3 highlights)
    auto tied() const { return std::tie(radius, blades, highlights); }
    bool operator==(const Defocus&) const = default;
};
/// Red moved one way, blue the other, green between.
struct ColourSplit {
    double amount = 0; // of the width: how far red goes, at half a width from the centre
    bool radial = true;
    double angle = 0; // of red, where it is not radial
    Point centre{0.5, 0.5};
    int samples = 3;
    auto tied() const { return std::tie(amount, radial, angle, centre.x, centre.y, samples); }
    bool operator==(const ColourSplit&) const = default;
};
struct Glow {
    double amount = 0, threshold = 0.8, knee = 0.2;
    double radius = 0.1; // of the height: the widest octave's standard deviation
    auto tied() const { return std::tie(amount, threshold, knee, radius); }
    bool operator==(const Glow&) const = default;
};
struct Vignette {
    double amount = 0;    // above 0 towards the colour, below 0 lighter
    double size = 0.8;    // of the half frame: where the middle of the falloff lies
    double roundness = 1; // 0 is a rectangle with the frame's sides, 1 an ellipse
    double feather = 0.6; // width of the falloff, of the half frame
    Point centre{0.5, 0.5};
    std::array<double, 3> colour{0, 0, 0}; // code values, 0 to 1
    auto tied() const {
        return std::tie(amount, size, roundness, feather, centre.x, centre.y, colour[0], colour[1], colour[2]);
    }
    bool operator==(const Vignette&) const = default;
};
/// An unsharp mask on luminance in code values.
struct Sharpen {
    double amount = 0;
    double radius = 0.0015; // standard deviation, of the height
    double threshold = 0;   // code values, 0 to 1: smaller differences stay
    auto tied() const { return std::tie(amount, radius, threshold); }
    bool operator==(const Sharpen&) const = default;
};
struct Light {
    double stops = 0;
    auto tied() const { return std::tie(stops); }
    bool operator==(const Light&) const = default;
};
/// Black bars that leave the middle free.
struct Bars {
    double ratio = 16.0 / 9; // width : height left free
    double amount = 1;       // 0 is not there, 1 fully in
    auto tied() const { return std::tie(ratio, amount); }
    bool operator==(const Bars&) const = default;
};

using Treatment = std::variant<GaussianBlur, LineBlur, ZoomBlur, SpinBlur, Defocus, ColourSplit, Glow, Vignette,
                               Sharpen, Light, Bars>;

/// What a layer's own movement gives a treatment that follows it.
struct OwnMovement {
    Point velocity{0, 0}; // at the frame's centre, in frame widths and heights per frame
    double aspect = 16.0 / 9;
};

} // namespace virga
