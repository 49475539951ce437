// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/spec_json.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {

void read_spec(ObjectReader& object, GainSpec& spec) {
    spec.invert = object.boolean_or("invert", false);
    const bool turned = spec.invert;
    const int given = read_fields(object, spec, {"gain_db", "factor"});
    if (given == 0) {
        object.fail("gain_db", "is missing", "give gain_db or factor");
    } else if (given > 1 || (spec.factor && turned)) {
        object.fail("factor", "says what gain_db and invert say, too", "keep the one you mean");
    }
}

void write_spec(Json& object, const GainSpec& spec) {
    write_fields(object, spec);
    if (spec.invert && !spec.factor) {
        object.set("invert", true);
    }
}

void read_spec(ObjectReader& object, DelaySpec& spec) {
    spec.speed_of_sound_m_per_s =
        object.number_or("speed_of_sound_m_per_s", spec.speed_of_sound_m_per_s);
    const int given = read_fields(object, spec, {"samples", "ms", "metres"});
    if (given != 1) {
        object.fail("samples",
                    given == 0 ? "is missing" : "more than one of samples, ms and metres",
                    "give one of samples, ms and metres");
    }
    const std::string way = object.text_or("interpolation", "none");
    const auto known =
        std::ranges::find(all_interpolations, way, [](Interpolation i) { return key_of(i); });
    if (known == all_interpolations.end()) {
        object.fail("interpolation", fmt::format("“{}” is not known to this version", way),
                    "use none, lagrange, all_pass or windowed_sinc");
        return;
    }
    spec.interpolation = *known;
    if (spec.interpolation != Interpolation::none) {
        spec.order = object.integer_or("order", spec.order);
    }
}

void write_spec(Json& object, const DelaySpec& spec) {
    write_fields(object, spec);
    if (spec.interpolation != Interpolation::none) {
        object.set("interpolation", key_of(spec.interpolation));
    }
}

void read_spec(ObjectReader& object, SplitSpec& spec) {
    spec.branches.clear();
    object.each("branches", [&](ObjectReader reader) {
        Branch branch;
        branch.factor = reader.number_or("factor", 1);
        branch.stages = read_chain(reader, "stages");
        branch.unknown = reader.unknown();
        spec.branches.push_back(std::move(branch));
    });
    if (spec.branches.size() < 2) {
        object.fail("branches", "are fewer than two", "give two or more");
    }
}

void write_spec(Json& object, const SplitSpec& spec) {
    object.set("branches", list_json(spec.branches, [](const Branch& branch) {
                   Json json;
                   json.set("factor", branch.factor);
                   json.set("stages", chain_json(branch.stages));
                   json.set_unknown(branch.unknown);
                   return json;
               }));
}

void read_spec(ObjectReader& object, RepeatSpec& spec) {
    if (!object.has("count")) {
        object.fail("count", "is missing", "give how often");
    }
    spec.count = object.integer_or("count", 1);
    spec.stages = read_chain(object, "stages");
}

void write_spec(Json& object, const RepeatSpec& spec) {
    object.set("count", spec.count);
    object.set("stages", chain_json(spec.stages));
}

void read_spec(ObjectReader& object, LoopSpec& spec) {
    spec.forward = read_chain(object, "forward");
    ObjectReader feedback = object.object("feedback");
    spec.feedback.factor = feedback.number("factor");
    spec.feedback.stages = read_chain(feedback, "stages");
    spec.feedback.unknown = feedback.unknown();
}

void write_spec(Json& object, const LoopSpec& spec) {
    object.set("forward", chain_json(spec.forward));
    Json feedback;
    feedback.set("factor", spec.feedback.factor);
    feedback.set("stages", chain_json(spec.feedback.stages));
    feedback.set_unknown(spec.feedback.unknown);
    object.set("feedback", std::move(feedback));
}

Json complex_numbers_json(const std::vector<std::complex<double>>& numbers) {
    return list_json(numbers, [](const std::complex<double>& number) {
        return Json::numbers({number.real(), number.imag()});
    });
}

void read_spec(ObjectReader& object, RootsSpec& spec) {
    spec.zeros = object.complex_numbers("zeros");
    spec.poles = object.complex_numbers("poles");
    spec.gain = object.number("gain");
}

void write_spec(Json& object, const RootsSpec& spec) {
    object.set("zeros", complex_numbers_json(spec.zeros));
    object.set("poles", complex_numbers_json(spec.poles));
    object.set("gain", spec.gain);
}

namespace {

// "start.leak" -> "leak"
std::string_view key_in_start(std::string_view key) {
    return key.substr(std::string_view("start.").size());
}

} // namespace

void read_spec(ObjectReader& object, RecursionSpec& spec) {
    if (!object.has("start")) {
        spec.b = object.numbers("b");
        spec.a = object.numbers("a");
        for (const auto& [key, row] : {std::pair("b", &spec.b), {"a", &spec.a}}) {
            if (row->empty()) {
                object.fail(key, "is missing or empty", "give the coefficients, or start");
            }
        }
        return;
    }
    if (object.has("b") || object.has("a")) {
        object.fail("start", "says what b and a say, too", "keep the one you mean");
    }
    ObjectReader start = object.object("start");
    const std::string form = start.text("form");
    const auto known =
        std::ranges::find(all_recursion_forms, form, [](RecursionForm f) { return key_of(f); });
    if (known == all_recursion_forms.end()) {
        start.fail("form", fmt::format("“{}” is not known to this version", form),
                   "give b and a instead");
        return;
    }
    spec.start = RecursionStart{.form = *known};
    for (const auto& field : fields_of(spec)) {
        if (field.get(spec)) {
            const std::string_view key = key_in_start(field.key);
            const bool whole = field.steps == FieldSteps::whole;
            field.set(spec, whole && start.has(key) ? start.integer_or(key, 1) : start.number(key));
        }
    }
    spec.start->unknown = start.unknown();
}

void write_spec(Json& object, const RecursionSpec& spec) {
    if (!spec.start) {
        object.set("b", Json::numbers(spec.b));
        object.set("a", Json::numbers(spec.a));
        return;
    }
    Json start;
    start.set("form", key_of(spec.start->form));
    for (const auto& field : fields_of(spec)) {
        if (const auto value = field.get(spec)) {
            start.set(key_in_start(field.key), *value);
        }
    }
    start.set_unknown(spec.start->unknown);
    object.set("start", std::move(start));
}

void read_spec(ObjectReader& object, TapsSpec& spec) {
    spec.taps = std::make_shared<const std::vector<double>>(object.numbers("taps"));
    if (spec.taps->empty()) {
        object.fail("taps", "are missing", "give at least one");
    }
}

void write_spec(Json& object, const TapsSpec& spec) {
    object.set("taps", Json::numbers(*spec.taps));
}

} // namespace syntonon
