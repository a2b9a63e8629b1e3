#include "core/base/expression.h"

#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace virga {
namespace {

class Parser {
public:
    Parser(std::string_view text, const Units& units) : m_text(text), m_units(units) {}

    Expected<double> run() {
        const double value = sum();
        skipSpace();
        if (m_error.empty() && m_at < m_text.size()) stop("did not expect this");
        if (m_error.empty() && !std::isfinite(value)) stop("the result is not a finite number");
        if (m_error.empty()) return value;
        return fail(ErrorCode::BadInput, fmt::format("\"{}\": {}", m_text, m_error),
                    fmt::format("character {}", m_errorAt + 1), "type a number such as 1.5, 16/9 or 5*960px");
    }

private:
    double sum() {
        double value = product();
        while (m_error.empty()) {
            if (take('+'))
                value += product();
            else if (take('-') || take("−"))
                value -= product();
            else
                break;
        }
        return value;
    }

    double product() {
        m_unit = 1;
        double value = factor();
        while (m_error.empty()) {
            if (take('*') || take("×"))
                value *= factor();
            else if (take('/')) {
                const bool plain = m_unit == 1;
                const double by = factor();
                if (by == 0) stop("division by zero");
                // "1/4 turn" is a quarter of a turn: a unit behind a fraction of plain numbers belongs to the fraction.
                value = plain && m_unit != 1 && by != 0 ? value / (by / m_unit) * m_unit : value / by;
            } else
                break;
        }
        return value;
    }

    double factor() {
        if (++m_depth > 64) stop("too many brackets");
        double value = 0;
        if (!m_error.empty()) return 0;
        if (take('-') || take("−"))
            value = -factor();
        else if (take('+'))
            value = factor();
        else if (take('(')) {
            value = sum();
            if (m_error.empty() && !take(')')) stop("a closing bracket is missing");
            value *= unit();
        } else
            value = number() * unit();
        --m_depth;
        return value;
    }

    double number() {
        skipSpace();
        std::string digits;
        std::size_t end = m_at;
        while (end < m_text.size() &&
               (std::isdigit(static_cast<unsigned char>(m_text[end])) || m_text[end] == '.' || m_text[end] == ','))
            digits += m_text[end] == ',' ? '.' : m_text[end], ++end;
        double value = 0;
        const auto [rest, ec] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
        if (ec != std::errc() || rest != digits.data() + digits.size()) {
            stop("a number is missing here");
            return 0;
        }
        m_at = end;
        return value;
    }

    double unit() {
        skipSpace();
        std::size_t best = 0;
        double size = 1;
        for (const auto& [name, value] : m_units)
            if (name.size() > best && m_text.substr(m_at).starts_with(name)) best = name.size(), size = value;
        m_at += best;
        if (best > 0) m_unit = size;
        return size;
    }

    bool take(char c) { return take(std::string_view(&c, 1)); }
    bool take(std::string_view what) {
        skipSpace();
        if (!m_text.substr(m_at).starts_with(what)) return false;
        m_at += what.size();
        return true;
    }
    void skipSpace() {
        while (m_at < m_text.size() && m_text[m_at] == ' ') ++m_at;
    }
    void stop(std::string why) {
        if (!m_error.empty()) return;
        m_error = std::move(why);
        m_errorAt = m_at;
    }

    std::string_view m_text;
    const Units& m_units;
    std::size_t m_at = 0, m_errorAt = 0;
    int m_depth = 0;
    double m_unit = 1; // the last unit read in this product
    std::string m_error;
};

} // namespace

Expected<double> evaluateExpression(std::string_view text, const Units& units) {
    return Parser(text, units).run();
}

} // namespace virga
