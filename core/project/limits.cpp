#include "core/project/limits.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/project/fields.h"

namespace virga {
namespace {

// Bytes that are not UTF-8 (RFC 3629) become question marks.
void makeUtf8(std::string& text) {
    for (std::size_t i = 0; i < text.size();) {
        const auto c = static_cast<unsigned char>(text[i]);
        const std::size_t more = c < 0x80                ? 0
                                 : c >= 0xc2 && c < 0xe0 ? 1
                                 : c >= 0xe0 && c < 0xf0 ? 2
                                 : c >= 0xf0 && c < 0xf5 ? 3
                                                         : 9;
        bool good = more < 9 && i + more < text.size();
        for (std::size_t k = 1; good && k <= more; ++k) good = (static_cast<unsigned char>(text[i + k]) & 0xc0) == 0x80;
        const auto second = good && more > 0 ? static_cast<unsigned char>(text[i + 1]) : 0x80;
        if (c == 0xe0 && second < 0xa0) good = false; // overlong
        if (c == 0xed && second > 0x9f) good = false; // surrogates
        if (c == 0xf0 && second < 0x90) good = false;
        if (c == 0xf4 && second > 0x8f) good = false;
        if (!good) text[i] = '?';
        i += good ? more + 1 : 1;
    }
}

// Holds every field to what its list allows; `what` is told before it.
class Holder {
public:
    explicit Holder(std::vector<std::string>* problems) : m_problems(problems) {}

    template <typename T> void operator()(const Field& field, T& value) {
        if constexpr (HasFields<T>::value)
            fieldsOf(*this, value);
        else
            hold(field, value);
    }
    void ratio(const Field& field, Rational& value, Rational least, Rational most) {
        // No finer than a file can say.
        constexpr std::int64_t largest = 999999999999999999; // 18 digits
        Rational held = std::clamp(value, least, most);
        if (held.den > largest || std::abs(held.num) > largest)
            held = Rational(roundToInteger(held * 1000000), 1000000);
        if (held == value) return;
        if (value < least || value > most)
            tell(fmt::format("{} of {:.6g} is out of range", nameOf(field), value.toDouble()));
        value = held;
    }
    void rate(const Field& field, FrameRate& value) {
        if (!isUsableRate(value)) ratio(field, value, Rational(1), Rational(1000));
    }
    std::string what; // "the clip \"A\""

private:
    std::string nameOf(const Field& field) const {
        const std::string name = field.called ? field.called : field.name;
        return what.empty() ? name : what + ", " + name;
    }
    template <typename T>
    requires std::is_arithmetic_v<T>
    void hold(const Field& field, T& value) {
        if constexpr (!std::is_same_v<T, bool>) {
            const T least = std::isfinite(field.least) ? T(field.least) : std::numeric_limits<T>::lowest(),
                    most = std::isfinite(field.most) ? T(field.most) : std::numeric_limits<T>::max();
            T held = std::clamp(value, least, most);
            if constexpr (std::is_floating_point_v<T>)
                if (!std::isfinite(value)) held = std::clamp(T(0), least, most);
            if (held == value) return;
            tell(fmt::format("{} of {} is out of range; {} was taken", nameOf(field), value, held));
            value = held;
        }
    }
    template <typename T>
    requires std::is_enum_v<T>
    void hold(const Field&, T&) {}
    void hold(const Field& field, Rational& value) {
        ratio(field, value, Rational(std::int64_t(field.least)), Rational(std::int64_t(field.most)));
    }
    void hold(const Field& field, std::string& text) {
        makeUtf8(text); // another byte would be three in the file
        if (text.size() <= longestText) return;
        text.resize(longestText);
        while (!text.empty() && (static_cast<unsigned char>(text.back()) & 0xc0) == 0x80) text.pop_back();
        if (!text.empty() && static_cast<unsigned char>(text.back()) >= 0xc0) text.pop_back();
        tell(fmt::format("{} is longer than {} letters and was cut", nameOf(field), longestText));
    }
    void hold(const Field&, std::filesystem::path&) {} // whatever the system takes
    void hold(const Field& field, Point& p) { hold(field, p.x), hold(field, p.y); }
    template <typename T> void hold(const Field& field, std::optional<T>& value) {
        if (value) (*this)(field, *value);
    }
    void hold(const Field&, std::map<int, double>&) {} // kept in order where it is read
    template <List Values> void hold(const Field& field, Values& values) {
        using T = typename Values::value_type;
        for (T& value : values) {
            const std::string before = what;
            if constexpr (std::is_same_v<T, Move>) what = nameOf(field);
            constexpr bool named = HasFields<T>::value && !std::is_same_v<T, Move> && !std::is_same_v<T, SubjectSpot> &&
                                   !std::is_same_v<T, Key> && !std::is_same_v<T, Pin>;
            if constexpr (named) what = calledOf(value);
            (*this)(field, value);
            if constexpr (std::is_same_v<T, Move>) holdMove(value);
            what = before;
        }
        if constexpr (std::is_same_v<T, Key>)
            if (values.size() > mostKeys) {
                tell(fmt::format("{} has more than {} keys; the last were left out", what, mostKeys));
                values.resize(mostKeys);
            }
        if constexpr (std::is_same_v<T, SubjectSpot>) { // one for each time, in their order
            const auto earlier = [](const T& a, const T& b) { return a.time < b.time; };
            std::stable_sort(values.begin(), values.end(), earlier);
            const auto same = [](const T& a, const T& b) { return a.time == b.time; };
            values.erase(std::unique(values.begin(), values.end(), same), values.end());
        }
    }
    void holdMove(Move& move) {
        const auto& parameters = moveInfo(move.kind).parameters;
        for (std::size_t i = 0; i < move.parameters.size() && i < parameters.size(); ++i) {
            const std::string label(parameters[i].label);
            hold(Field{label.c_str(), parameters[i].lowest, parameters[i].highest}, move.parameters[i]);
        }
        for (Channel& c : move.channels)
            for (Curve* curve : {&c.outgoing, &c.incoming}) {
                (*this)(Field{}, curve->keys);
            }
    }
    static std::string calledOf(const Clip& c) { return called("the clip", c.name); }
    static std::string calledOf(const Overlay& o) { return called("the overlay", o.clip.name); }
    static std::string calledOf(const Adjustment& a) { return called("the adjustment", a.name); }
    static std::string calledOf(const Marker& m) { return called("the marker", m.name); }
    static std::string calledOf(const Recipe& r) { return called("the recipe", r.name); }
    static std::string calledOf(const Music&) { return "the music"; }
    static std::string calledOf(const Media& m) { return called("the file", m.path.filename().string()); }
    static std::string called(const std::string& kind, const std::string& name) {
        return name.empty() ? kind : fmt::format("{} \"{}\"", kind, name.substr(0, 60));
    }
    void tell(const std::string& text) {
        constexpr std::size_t most = 100;
        if (m_problems && m_problems->size() < most) m_problems->push_back(text);
    }
    std::vector<std::string>* m_problems;
};

} // namespace

Project withinLimits(const Project& project, std::vector<std::string>* problems) {
    Project p = project;
    Holder holder(problems);
    fieldsOf(holder, p);
    return p;
}

Recipe withinLimits(const Recipe& recipe) {
    Recipe r = recipe;
    Holder holder(nullptr);
    fieldsOf(holder, r);
    return r;
}

} // namespace virga
