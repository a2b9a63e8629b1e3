#pragma once
// A 64-bit running hash for cache keys: FNV-1a over the bytes of what is added (Fowler, Noll, Vo: IETF draft
// draft-eastlake-fnv). Not for security.
#include <cstdint>
#include <cstring>
#include <string_view>
#include <type_traits>

namespace virga {

class Hash {
public:
    template <typename T>
    requires std::is_arithmetic_v<T> || std::is_enum_v<T> Hash& add(T value) {
        char bytes[sizeof(T)];
        std::memcpy(bytes, &value, sizeof(T));
        return addBytes({bytes, sizeof(T)});
    }
    Hash& add(std::string_view text) { return add(text.size()).addBytes(text); }
    std::uint64_t value() const { return m_value; }

private:
    Hash& addBytes(std::string_view bytes) {
        for (const char c : bytes) m_value = (m_value ^ std::uint8_t(c)) * 0x100000001b3ull;
        return *this;
    }
    std::uint64_t m_value = 0xcbf29ce484222325ull;
};

} // namespace virga
