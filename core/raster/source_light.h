#pragma once
// What the code values of a source mean as light, and how they become Virga's: linear light of BT.709's primaries where
// 1 is the white of an ordinary (SDR) screen. May be used from any thread.
#include <array>
#include <memory>
#include <optional>
#include <string_view>
#include <vector>

#include "core/raster/image.h"

namespace virga {

/// Chromaticities (CIE 1931 x, y) of red, green, blue; the white is D65 for all.
enum class Primaries { Bt709, Bt2020, P3 };

enum class Transfer {
    Srgb,  // IEC 61966-2-1, which stands for BT.709's, BT.601's and BT.2020's too
    Hlg,   // ITU-R BT.2100, hybrid log-gamma
    Pq,    // ITU-R BT.2100 (SMPTE ST 2084), perceptual quantisation
    Power, // light = code to a power
};

struct SourceLight {
    Primaries primaries = Primaries::Bt709;
    Transfer transfer = Transfer::Srgb;
    double power = 1;   // of Transfer::Power
    double peak = 1000; // cd/m², the brightest of the footage; HLG and PQ
    bool isPlain() const { return primaries == Primaries::Bt709 && transfer == Transfer::Srgb; }
    bool isHdr() const { return transfer == Transfer::Hlg || transfer == Transfer::Pq; }
    bool operator==(const SourceLight&) const = default;
};

using Matrix3 = std::array<std::array<double, 3>, 3>;

/// From linear R, G, B of those primaries to those of BT.709 (method of SMPTE RP 177).
Matrix3 toBt709(Primaries primaries);

/// The light in cd/m² of a PQ code value, 0 to 1, and back (ITU-R BT.2100, table 4).
double lightFromPq(double code);
double pqFromLight(double light);

/// The scene's light, 0 to 1, of an HLG code value, 0 to 1 (ITU-R BT.2100, table 5).
double sceneFromHlg(double code);

/// What an ordinary screen shows of a light in cd/m², 0 to `referenceWhite`, so that up to the knee nothing changes and
/// `peak` becomes white (ITU-R BT.2390, 5.4.1, without a black lift).
double toneMapped(double light, double peak);

/// HDR reference white, cd/m² (ITU-R BT.2408): what an SDR white is in HDR, and so the white of the result.
inline constexpr double referenceWhite = 203;

/// Turns 16-bit code values of limited range (deepBlack to deepWhite) into linear light. Immutable.
class LightTable {
public:
    explicit LightTable(const SourceLight& light);
    const SourceLight& light() const { return m_light; }
    /// Three code values into linear light of BT.709, 1 is white; held to 0 and up.
    std::array<float, 3> operator()(std::uint16_t r, std::uint16_t g, std::uint16_t b) const;

private:
    SourceLight m_light;
    std::vector<float> m_linear;       // by code value; HDR: scene light (HLG) or cd/m² (PQ)
    std::vector<float> m_gain, m_ootf; // by the fourth root of a light's share of the highest
    std::array<std::array<float, 3>, 3> m_matrix{};
    float m_highest = 1;
};

/// As linearise() in transfer.h, for a source of another kind.
Image<Linear16> linearise(ImageView<const Rgba16> picture, const LightTable& table);
Image<Linear16> linearise(ImageView<const std::uint16_t> r, ImageView<const std::uint16_t> g,
                          ImageView<const std::uint16_t> b, const LightTable& table);

} // namespace virga
