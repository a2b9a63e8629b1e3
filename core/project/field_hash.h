#pragma once
// Hashes of the project's structs, over their lists of fields (fields.h).
#include <optional>
#include <vector>

#include "core/base/hash.h"
#include "core/project/fields.h"

namespace virga {

class FieldHasher {
public:
    explicit FieldHasher(Hash& hash) : m_hash(hash) {}
    template <typename T> void operator()(const Field&, const T& value) { add(value); }
    void ratio(const Field&, const Rational& value, Rational, Rational) { add(value); }
    void rate(const Field&, const Rational& value) { add(value); }

    template <typename T> void add(const T& value) {
        if constexpr (std::is_arithmetic_v<T> || std::is_enum_v<T>)
            m_hash.add(value);
        else if constexpr (HasFields<T>::value)
            fieldsOf(*this, value);
        else if constexpr (std::is_convertible_v<T, std::string_view>)
            m_hash.add(std::string_view(value));
        else
            addOther(value);
    }

private:
    void addOther(const Rational& value) { m_hash.add(value.num).add(value.den); }
    void addOther(const Point& value) { m_hash.add(value.x).add(value.y); }
    template <typename T> void addOther(const std::optional<T>& value) {
        m_hash.add(value.has_value());
        if (value) add(*value);
    }
    template <List T> void addOther(const T& values) {
        m_hash.add(values.size());
        for (const auto& value : values) add(value);
    }
    Hash& m_hash;
};

template <typename T> void addFields(Hash& hash, const T& value) {
    FieldHasher(hash).add(value);
}

} // namespace virga
