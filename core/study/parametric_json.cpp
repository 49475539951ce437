// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/spec_json.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

const std::initializer_list<std::string_view> width_keys = {"q", "bandwidth_oct", "slope"};

void read_width(ObjectReader& object, ParametricSpec& spec) {
    const int given = read_fields(object, spec, width_keys);
    if (given > 0 && spec.order == 1) {
        // Not refused: earlier versions wrote one.
        const auto key = std::ranges::find_if(
            width_keys, [&](std::string_view width) { return object.has(width); });
        object.log().warn({object.path_of(*key), "a first-order section has no width",
                           "it is left out; use order 2 where it is meant"});
        spec.width = {};
    } else if (given > 1) {
        object.fail("q", "more than one of q, bandwidth_oct and slope", "keep the one you mean");
    } else if (given == 0 && has_width(spec)) {
        object.fail("q", "is missing", "give one of q, bandwidth_oct and slope");
    }
}

} // namespace

void read_spec(ObjectReader& object, ParametricSpec& spec) {
    const std::string shape = object.text("shape");
    if (const auto known = parametric_shape_from_key(shape)) {
        spec.shape = *known;
    } else {
        object.fail(
            "shape", fmt::format("“{}” is not a shape", shape),
            "use peak, low_shelf, high_shelf, low_pass, high_pass, band_pass, notch or all_pass");
    }
    spec.order = object.integer_or("order", 2);
    spec.frequency_hz = object.number("frequency_hz");
    spec.gain_db = has_gain(spec.shape) ? object.number("gain_db") : object.number_or("gain_db", 0);
    read_width(object, spec);
    const std::string mapping = object.text_or("mapping", "bilinear");
    if (mapping != "bilinear" && mapping != "nyquist_matched") {
        object.fail("mapping", fmt::format("“{}” is not a mapping of this version", mapping),
                    "use bilinear or nyquist_matched");
    }
    spec.mapping = mapping == "nyquist_matched" ? ParametricMapping::nyquist_matched
                                                : ParametricMapping::bilinear;
}

void write_spec(Json& object, const ParametricSpec& spec) {
    object.set("shape", key_of(spec.shape));
    if (spec.order != 2) {
        object.set("order", spec.order);
    }
    for (const auto& field : fields_of(spec)) {
        const bool is_width = std::ranges::find(width_keys, field.key) != width_keys.end();
        const auto value = field.get(spec);
        if (value && (has_width(spec) || !is_width)) {
            object.set(field.key, *value);
        }
    }
    if (spec.mapping == ParametricMapping::nyquist_matched) {
        object.set("mapping", "nyquist_matched");
    }
}

} // namespace syntonon
