// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/named_json.h"
#include "core/study/spec_json.h"

#include <fmt/format.h>

namespace syntonon {

void read_spec(ObjectReader& object, CrossoverSpec& spec) {
    spec.link = object.text_or("link", "");
    read_named(object, "family", names_of_crossover_families(), spec.family);
    spec.order = object.integer_or("order", spec.order);
    if (object.has("frequencies_hz")) {
        spec.frequencies_hz = object.numbers("frequencies_hz");
        if (spec.frequencies_hz.empty()
            || spec.frequencies_hz.size() > most_crossover_frequencies) {
            object.fail("frequencies_hz", fmt::format("are {}", spec.frequencies_hz.size()),
                        fmt::format("give 1 to {}", most_crossover_frequencies));
        }
    } else {
        object.fail("frequencies_hz", "is missing", "give 1 to 3 frequencies");
    }
    spec.filled = object.boolean_or("filled", true);
    spec.length = object.integer_or("length", spec.length);
    spec.delayed = object.boolean_or("delayed", true);
    spec.way = object.integer_or("way", spec.way);
    read_fields(object, spec, {"stop_attenuation_db", "height_m"});
}

// What is not in force is written only where it is not as usual, so that it is not lost.
void write_spec(Json& object, const CrossoverSpec& spec) {
    const CrossoverSpec usual;
    if (!spec.link.empty()) {
        object.set("link", spec.link);
    }
    object.set("family", key_of_named(names_of_crossover_families(), spec.family));
    if (has_order(spec.family) || spec.order != usual.order) {
        object.set("order", spec.order);
    }
    object.set("frequencies_hz", Json::numbers(spec.frequencies_hz));
    object.set("way", spec.way);
    if (spec.filled != usual.filled) {
        object.set("filled", spec.filled);
    }
    const bool has_taps = spec.family == CrossoverFamily::linear_phase;
    if (has_taps || spec.length != usual.length) {
        object.set("length", spec.length);
    }
    if (has_taps || spec.stop_attenuation_db != usual.stop_attenuation_db) {
        object.set("stop_attenuation_db", spec.stop_attenuation_db);
    }
    if (spec.family == CrossoverFamily::subtractive || spec.delayed != usual.delayed) {
        object.set("delayed", spec.delayed);
    }
    if (spec.height_m != 0) {
        object.set("height_m", spec.height_m);
    }
}

} // namespace syntonon
