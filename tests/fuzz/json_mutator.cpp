#include "tests/fuzz/json_mutator.h"

#include <cstring>
#include <limits>
#include <nlohmann/json.hpp>
#include <random>

extern "C" std::size_t LLVMFuzzerMutate(std::uint8_t* data, std::size_t size, std::size_t most);

namespace {

using nlohmann::json;
using Chance = std::minstd_rand;

// Every place of a document.
void gather(json& at, std::vector<json*>& places) {
    places.push_back(&at);
    if (at.is_structured())
        for (json& inner : at) gather(inner, places);
}

json number(Chance& chance, const json& old) {
    static const json edges[] = {0,
                                 1,
                                 -1,
                                 2,
                                 10,
                                 24,
                                 25,
                                 30,
                                 100,
                                 255,
                                 1000,
                                 10000,
                                 65536,
                                 100000,
                                 100000000,
                                 -100000000,
                                 1e-9,
                                 0.5,
                                 -0.5,
                                 1e7,
                                 1e9,
                                 1e300,
                                 -1e300,
                                 1e-300,
                                 std::numeric_limits<std::int64_t>::max(),
                                 std::numeric_limits<std::int64_t>::min(),
                                 std::numeric_limits<std::uint64_t>::max()};
    const double value = old.is_number() ? old.get<double>() : 1;
    switch (chance() % 4) {
    case 0:
        return edges[chance() % std::size(edges)];
    case 1:
        return old.is_number_integer()
                   ? json(std::int64_t(std::clamp(value, -1e15, 1e15)) + std::int64_t(chance() % 21) - 10)
                   : json(value * 1.5 + 0.01);
    case 2:
        return -value;
    default:
        return json(value * (double(chance() % 2000) / 1000));
    }
}

void mutate(json& document, Chance& chance) {
    std::vector<json*> places;
    gather(document, places);
    json& at = *places[chance() % places.size()];
    switch (chance() % 8) {
    case 0:
    case 1:
    case 2: // a number, or what else is there, becomes a number that is its like
        for (int tries = 0; tries < 20; ++tries)
            if (json& other = *places[chance() % places.size()]; other.is_number()) {
                other = number(chance, other);
                return;
            }
        at = number(chance, at);
        return;
    case 3: // from elsewhere in the document
        at = json(*places[chance() % places.size()]);
        return;
    case 4: // gone
        if (at.is_object() && !at.empty())
            at.erase(std::next(at.begin(), long(chance() % at.size())));
        else if (at.is_array() && !at.empty())
            at.erase(chance() % at.size());
        else
            at = nullptr;
        return;
    case 5: // repeated
        if (at.is_array() && !at.empty() && at.size() < 64) {
            const json element = at[chance() % at.size()];
            at.insert(at.begin() + long(chance() % (at.size() + 1)), element);
        }
        return;
    case 6: // another word
        for (int tries = 0; tries < 20; ++tries)
            if (json& other = *places[chance() % places.size()]; other.is_string()) {
                const json& from = *places[chance() % places.size()];
                other = from.is_string() ? from : json("");
                return;
            }
        return;
    default: // two elements change places
        if (at.is_array() && at.size() > 1)
            std::swap(at[chance() % at.size()], at[chance() % at.size()]);
        else
            at = chance() % 2 ? json(true) : json::array();
    }
}

} // namespace

extern "C" std::size_t LLVMFuzzerCustomMutator(std::uint8_t* data, std::size_t size, std::size_t most,
                                               unsigned int seed) {
    Chance chance(seed + 1);
    json document = chance() % 8 ? json::parse(data, data + size, nullptr, false) : json(json::value_t::discarded);
    if (document.is_discarded()) return LLVMFuzzerMutate(data, size, most);
    for (unsigned n = 1 + unsigned(chance() % 3); n > 0; --n) mutate(document, chance);
    const std::string text = document.dump(-1, ' ', false, json::error_handler_t::replace);
    if (text.size() > most) return LLVMFuzzerMutate(data, size, most);
    std::memcpy(data, text.data(), text.size());
    return text.size();
}
