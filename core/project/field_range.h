#pragma once
// What a single field may hold, by its name in files: for those who let people enter one.
#include <cassert>
#include <string_view>

#include "core/project/fields.h"

namespace virga {

struct FieldRange {
    double least = 0, most = 0;
    bool operator==(const FieldRange&) const = default;
};

/// A visitor of fields (fields.h) that takes the range of one.
struct RangeFinder {
    std::string_view name;
    FieldRange found{1, 0};
    void take(const Field& field, double least, double most) {
        if (name == field.name) found = {least, most};
    }
    template <typename T> void operator()(const Field& field, T&) { take(field, field.least, field.most); }
    template <typename T> void rate(const Field&, T&) {}
    template <typename T> void ratio(const Field& field, T&, Rational least, Rational most) {
        take(field, least.toDouble(), most.toDouble());
    }
};

/// A field's range, in units of which `factor` make one of the field's own (100: per cent). REQUIRES: the struct has a
/// field of that name, and it is a number.
template <typename Struct> FieldRange rangeOf(std::string_view name, double factor = 1) {
    RangeFinder finder{name};
    Struct some{};
    fieldsOf(finder, some);
    assert(finder.found.least <= finder.found.most);
    return {finder.found.least * factor, finder.found.most * factor};
}

} // namespace virga
