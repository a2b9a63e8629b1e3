#pragma once
// Transitions that take several pictures: dissolves, wipes and fades through one colour. In a dissolve each small part
// of the picture goes from what the old shot shows there to what the new one shows, in a wipe it changes at once, part
// after part; in both every part is a blend of the two ends, whatever its share. That model, least squares over windows
// of several lengths, is compared with how alike the two ends are by local correlation: a pan or a zoom also leads from
// one picture to another, but over others, and something that merely grows brighter keeps its structure. Related
// published methods: Zhang, Kankanhalli and Smoliar 1993 (twin comparison, which accumulates differences); Truong,
// Dorai and Venkatesh 2000 (dissolves and fades as linear models). One thread.
#include <array>
#include <cstdint>
#include <vector>

namespace virga {

/// A picture of 64 x 36 points, each of the three from 0 to 255 as it looks.
struct SmallPicture {
    static constexpr int width = 64, height = 36;
    std::array<std::uint8_t, std::size_t(width) * height> red, green, blue;
};

struct FoundGradual {
    std::int64_t from = 0; // the last picture that shows the old shot alone
    std::int64_t to = 0;   // the first that shows the new one alone
    double confidence = 0; // 0 to 1
};

class GradualFinder {
public:
    void add(const SmallPicture& picture);
    /// All that were found, in order. No more pictures may be added.
    std::vector<FoundGradual> finish();

private:
    static constexpr int across = 16, down = 9, cells = across * down, channels = 3;
    struct Kept {
        std::array<float, std::size_t(cells) * channels> means{}; // of the cells, 0 to 1
        std::array<float, std::size_t(SmallPicture::width) * SmallPicture::height>
            detail{};       // luma less its surroundings
        float contrast = 0; // standard deviation over the cells
    };
    struct Window {
        double score = 0, residual = 0;
        std::int64_t a = 0, b = 0;
    };
    const Kept& at(std::int64_t n) const { return m_kept[std::size_t(n - m_first)]; }
    std::int64_t end() const { return m_first + std::int64_t(m_kept.size()); }
    bool measure(std::int64_t a, std::int64_t b, Window* window) const;
    double likeness(std::int64_t a, std::int64_t b) const;
    std::vector<double> progress(std::int64_t a, std::int64_t b) const;
    double residual(std::int64_t a, std::int64_t b) const;
    void locate(std::int64_t a, std::int64_t b, std::int64_t* from, std::int64_t* to) const;
    void search(std::int64_t until);
    void merge(std::vector<FoundGradual>& found) const;

    std::vector<Kept> m_kept; // a stretch of the video
    std::int64_t m_first = 0; // the number of its first picture
    std::int64_t m_begun = 0; // windows that begin before this one were looked at
    std::vector<FoundGradual> m_found;
};

} // namespace virga
