// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/single_values.h"

#include "core/device/oca/setting_bytes.h"

#include <algorithm>
#include <utility>

namespace syntonon::oca {
namespace {

constexpr std::uint16_t level = 4; // in the tree of classes, of all these

// By what bytes each property of a class is set, one after the other as they stand in the whole
// call's parameters. 0: a list, with its own length.
struct Layout {
    std::size_t mask_bytes; // before them
    std::vector<std::size_t> sizes;
    std::vector<std::uint16_t> properties;
};
Layout layout_of(Kind kind) {
    switch (kind) {
    case Kind::mute:
    case Kind::polarity:
        return {0, {1}, {1}};
    case Kind::parametric_filter:
        return {2, {4, 1, 4, 4, 4}, {1, 2, 3, 4, 5}};
    case Kind::classical_filter:
        return {2, {4, 1, 1, 2, 4}, {1, 2, 3, 4, 5}};
    case Kind::polynomial_filter:
        return {0, {0, 0}, {1, 2}};
    case Kind::fir_filter:
        return {0, {0}, {2}};
    case Kind::curve_filter:
        return {0, {}, {1}}; // all three lists are one property
    default:
        return {0, {4}, {1}};
    }
}

Bytes part(Reader& in, std::size_t size) {
    if (size == 0) {
        Writer list;
        list.floats(in.floats());
        return std::move(list).bytes();
    }
    const ByteView bytes = in.raw(size);
    return {bytes.begin(), bytes.end()};
}

// The one property that a method sets, by its place in the layout; objects of several properties
// have a getter and a setter for each, in order.
std::optional<std::size_t> property_set_by(Kind kind, const MethodId& method) {
    const bool has_many = kind == Kind::parametric_filter || kind == Kind::classical_filter;
    if (!has_many || method.level != level || method.index % 2 != 0 || method.index < 2
        || method.index > 10) {
        return std::nullopt;
    }
    return method.index / 2 - 1;
}

Parameters with_part(const Setting& now, std::size_t place, const Bytes& bytes) {
    Parameters all = call_to_set(now).parameters;
    const Layout layout = layout_of(kind_of(now));
    std::size_t at = layout.mask_bytes;
    for (std::size_t i = 0; i < place; ++i) {
        at += layout.sizes[i];
    }
    std::ranges::copy(bytes, all.bytes.begin() + static_cast<std::ptrdiff_t>(at));
    return all;
}

} // namespace

std::vector<SingleValue> values_of(const Setting& setting) {
    const Layout layout = layout_of(kind_of(setting));
    const Bytes all = call_to_set(setting).parameters.bytes;
    Reader in(all);
    in.raw(layout.mask_bytes);
    std::vector<SingleValue> values;
    for (std::size_t i = 0; i < layout.properties.size(); ++i) {
        Bytes bytes;
        if (layout.sizes.empty()) {
            const ByteView rest = in.rest();
            bytes.assign(rest.begin(), rest.end());
        } else {
            bytes = part(in, layout.sizes[i]);
        }
        values.push_back({{level, layout.properties[i]}, std::move(bytes)});
    }
    return values;
}

std::vector<SingleValue> changed_values(const Setting& before, const Setting& after) {
    const std::vector<SingleValue> old = values_of(before);
    std::vector<SingleValue> changed = values_of(after);
    std::erase_if(changed, [&](const SingleValue& value) {
        return std::ranges::find(old, value) != old.end();
    });
    return changed;
}

tl::expected<Setting, Status> setting_after(const Setting& now, const Command& command) {
    const Kind kind = kind_of(now);
    Parameters whole = command.parameters;
    if (const auto place = property_set_by(kind, command.method)) {
        if (command.parameters.count != 1
            || command.parameters.bytes.size() != layout_of(kind).sizes[*place]) {
            return tl::unexpected(Status::bad_format);
        }
        whole = with_part(now, *place, command.parameters.bytes);
    } else if (command.method != call_to_set(now).method) {
        return tl::unexpected(Status::bad_method);
    }
    const auto setting = setting_in(kind, whole);
    return setting ? tl::expected<Setting, Status>(*setting) : tl::unexpected(Status::bad_format);
}

} // namespace syntonon::oca
