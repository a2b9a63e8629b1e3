#include "core/audio/audio_reader.h"

#include <algorithm>
#include <cmath>

#include "core/audio/sound_decoder.h"

namespace virga {
namespace {

using namespace av;

// The result's samples are numbered: number n is at source time n * speed / audioRate.
class FileAudio : public AudioReader {
public:
    FileAudio(std::unique_ptr<SoundDecoder> decoder, Rational speed, std::string path)
        : m_decoder(std::move(decoder)), m_speed(speed), m_path(std::move(path)) {
        // Source samples for one of the result, as a fraction that a resampler can follow.
        m_step = Rational(m_decoder->rate()) * speed / Rational(audioRate);
        constexpr std::int64_t most = 1 << 20;
        if (m_step.num > most || m_step.den > most)
            m_step = Rational(roundToInteger(m_step * Rational(audioRate)), audioRate);
    }

    bool isAt(Rational from) const override { return m_started && holds(numberOf(from)); }

    Expected<std::vector<float>> read(Rational from, std::int64_t count, const Cancel& cancel) override {
        count = std::max<std::int64_t>(count, 0);
        std::vector<float> out(std::size_t(count) * audioChannels, 0.0f);
        const auto first = numberOf(from);
        if (!m_started || !holds(first))
            if (!start(first)) return cannot();
        while (end() < first + count && !m_ended) {
            if (cancel.requested()) {
                m_started = false;
                return fail(ErrorCode::Cancelled, "stopped", m_path);
            }
            if (!goOn(cancel)) return cannot();
        }
        const auto a = std::max(first, m_begin), b = std::min(first + count, end());
        if (a < b)
            std::copy_n(m_samples.begin() + std::ptrdiff_t(2 * (a - m_begin)), 2 * (b - a),
                        out.begin() + std::ptrdiff_t(2 * (a - first)));
        // A second stays, for whoever asks for an overlapping piece.
        if (const auto old = first + count - audioRate - m_begin; old > audioRate) {
            const auto gone = std::min(old, end() - m_begin);
            m_samples.erase(m_samples.begin(), m_samples.begin() + std::ptrdiff_t(2 * gone));
            m_begin += gone;
        }
        return out;
    }

private:
    std::int64_t numberOf(Rational from) const { return roundToInteger(from / m_speed * Rational(audioRate)); }
    std::int64_t end() const { return m_begin + std::int64_t(m_samples.size() / 2); }
    bool holds(std::int64_t number) const { return number >= m_begin && (number <= end() + audioRate || m_ended); }

    tl::unexpected<Error> cannot() {
        m_started = false;
        return fail(ErrorCode::Unsupported, "its sound cannot be converted", m_path,
                    "convert it to 48 kHz stereo first");
    }

    // Begins a little early, where a sample of the result and one of the source coincide: so the phase is the same
    // wherever one begins.
    bool start(std::int64_t number) {
        constexpr std::int64_t runUp = 2048;
        const auto turns = floorToInteger(Rational(number - runUp, m_step.den));
        m_begin = turns * m_step.den;
        m_feed = turns * m_step.num;
        m_samples.clear();
        m_run = {};
        m_ended = false;
        m_started = m_decoder->seek(m_feed);
        m_resampler.reset();
        if (m_step == Rational(1)) return m_started;
        AVChannelLayout stereo = AV_CHANNEL_LAYOUT_STEREO;
        SwrContext* raw = nullptr;
        swr_alloc_set_opts2(&raw, &stereo, AV_SAMPLE_FMT_FLT, int(m_step.den), &stereo, AV_SAMPLE_FMT_FLT,
                            int(m_step.num), 0, nullptr);
        m_resampler.reset(raw);
        return m_started && raw && swr_init(raw) >= 0;
    }

    // Takes one more run of the source. False where the resampler fails.
    bool goOn(const Cancel& cancel) {
        if (m_run.count() == 0) m_run = m_decoder->next(cancel);
        if (m_run.count() == 0) {
            m_ended = true;
            return feed(nullptr, 0);
        }
        if (m_run.place > m_feed) { // it begins later than that
            const std::vector<float> silence(std::size_t(2 * std::min<std::int64_t>(m_run.place - m_feed, 1 << 15)));
            return feed(silence.data(), std::int64_t(silence.size() / 2));
        }
        const auto run = std::move(m_run);
        m_run = {};
        const auto early = std::min(m_feed - run.place, run.count());
        return early == run.count() || feed(run.stereo.data() + 2 * early, run.count() - early);
    }

    bool feed(const float* stereo, std::int64_t count) {
        m_feed += count;
        if (!m_resampler) {
            if (count > 0) m_samples.insert(m_samples.end(), stereo, stereo + 2 * count);
            return true;
        }
        const auto room = swr_get_out_samples(m_resampler.get(), int(count));
        if (room < 0) return false;
        const auto old = m_samples.size();
        m_samples.resize(old + std::size_t(room) * 2);
        auto* target = reinterpret_cast<std::uint8_t*>(m_samples.data() + old);
        const auto* source = reinterpret_cast<const std::uint8_t*>(stereo);
        const int got = swr_convert(m_resampler.get(), &target, room, count > 0 ? &source : nullptr, int(count));
        m_samples.resize(old + std::size_t(std::max(got, 0)) * 2);
        return got >= 0;
    }

    std::unique_ptr<SoundDecoder> m_decoder;
    Rational m_speed, m_step;
    std::string m_path;
    Owned<SwrContext> m_resampler; // none where each sample of the source is one of the result
    SoundDecoder::Run m_run;
    std::vector<float> m_samples; // of the result, from number m_begin on
    std::int64_t m_begin = 0;
    std::int64_t m_feed = 0; // the place of the source's next sample that is wanted
    bool m_started = false, m_ended = false;
};

} // namespace

Expected<std::unique_ptr<AudioReader>> AudioReader::open(const std::filesystem::path& path, Rational speed,
                                                         const Cancel& cancel) {
    auto decoder = SoundDecoder::open(path, cancel);
    if (!decoder) return tl::unexpected(decoder.error());
    return std::unique_ptr<AudioReader>(new FileAudio(std::move(*decoder), speed, path.string()));
}

} // namespace virga
