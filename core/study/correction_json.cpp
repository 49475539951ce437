// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/named_json.h"
#include "core/study/spec_json.h"

#include <cmath>

namespace syntonon {
namespace {

void read_method(ObjectReader& object, SectionsCorrection& method) {
    if (object.has("tolerance_db")) {
        method.tolerance_db = 1; // read with the other fields
        method.count = most_sections_by_tolerance;
    }
    read_named(object, "match", names_of_correction_matches(), method.match);
    method.delay_ms = object.number_or("delay_ms", 0);
    object.each("q_limits", [&](ObjectReader limit) {
        QLimit read{limit.number("frequency_hz"), limit.number("q"), {}};
        read.unknown = limit.unknown();
        method.q_limits.push_back(std::move(read));
    });
    object.each("sections", [&](ObjectReader section) {
        FoundSection found;
        read_spec(section, found.section);
        found.locked = section.boolean_or("locked", false);
        found.unknown = section.unknown();
        method.found.push_back(std::move(found));
    });
}

void read_method(ObjectReader& object, TapsCorrection& method) {
    read_named(object, "phase", names_of_correction_phases(), method.phase);
    if (object.has("delay_samples")) {
        method.delay_samples = 0; // read with the other fields
    }
    if (object.has("window")) {
        read_window(object, method.window);
    }
    method.sound_at_samples = static_cast<int>(object.integer_or("sound_at_samples", 0));
    method.timing_up_to_hz = object.number_or("timing_up_to_hz", 0);
    method.worst_pre_ringing_db = object.number_or("worst_pre_ringing_db", 0);
    if (auto taps = object.numbers("taps"); !taps.empty()) {
        method.found = std::make_shared<const std::vector<double>>(std::move(taps));
    }
}

template <class Limit>
Json limits_json(const std::vector<Limit>& limits, double Limit::*value, std::string_view key) {
    return list_json(limits, [&](const Limit& limit) {
        Json json;
        json.set("frequency_hz", limit.frequency_hz);
        json.set(key, limit.*value);
        json.set_unknown(limit.unknown);
        return json;
    });
}

void write_method(Json& object, const SectionsCorrection& method) {
    if (method.match != CorrectionMatch::magnitude) {
        object.set("match", key_of_named(names_of_correction_matches(), method.match));
        object.set("delay_ms", method.delay_ms);
    }
    if (!method.q_limits.empty()) {
        object.set("q_limits", limits_json(method.q_limits, &QLimit::q, "q"));
    }
    object.set("sections", list_json(method.found, [](const FoundSection& found) {
                   Json json;
                   write_spec(json, found.section);
                   if (found.locked) {
                       json.set("locked", true);
                   }
                   json.set_unknown(found.unknown);
                   return json;
               }));
}

void write_method(Json& object, const TapsCorrection& method) {
    object.set("phase", key_of_named(names_of_correction_phases(), method.phase));
    if (!(method.window == TapsCorrection().window)) {
        write_window(object, method.window);
    }
    if (method.found != nullptr) {
        object.set("taps", Json::numbers(*method.found));
        object.set("sound_at_samples", method.sound_at_samples);
        if (method.phase == TapsCorrection::Phase::mixed) {
            object.set("timing_up_to_hz", method.timing_up_to_hz);
            object.set("worst_pre_ringing_db", method.worst_pre_ringing_db);
        }
    }
}

} // namespace

void read_spec(ObjectReader& object, CorrectionSpec& spec) {
    std::size_t method = 0;
    read_named(object, "method", names_of_correction_methods(), method);
    if (method != 0) {
        spec.method = TapsCorrection();
    }
    std::visit([&](auto& of) { read_method(object, of); }, spec.method);
    for (const auto& field : fields_of(spec)) {
        if (field.get(spec) && object.has(field.key)) {
            const bool whole = field.steps == FieldSteps::whole;
            field.set(spec, whole ? object.integer_or(field.key, 1) : object.number(field.key));
        }
    }
    object.each("boost_limits", [&](ObjectReader limit) {
        BoostLimit read{limit.number("frequency_hz"), limit.number("boost_db"), {}};
        read.unknown = limit.unknown();
        spec.boost_limits.push_back(std::move(read));
    });
    read_named(object, "over", names_of_correction_overs(), spec.over);
    spec.refits = object.boolean_or("refits", false);
    spec.fitted_to = object.text_or("fitted_to", "");
    spec.fitted_aim_db = object.numbers("fitted_aim_db");
    spec.fitted_aim_deg = object.numbers("fitted_aim_deg");
}

void write_spec(Json& object, const CorrectionSpec& spec) {
    object.set("method", key_of_named(names_of_correction_methods(), spec.method.index()));
    write_fields(object, spec);
    if (!spec.boost_limits.empty()) {
        object.set("boost_limits",
                   limits_json(spec.boost_limits, &BoostLimit::boost_db, "boost_db"));
    }
    if (spec.over != CorrectionOver::average) {
        object.set("over", key_of_named(names_of_correction_overs(), spec.over));
    }
    if (spec.refits) {
        object.set("refits", true);
    }
    std::visit([&](const auto& of) { write_method(object, of); }, spec.method);
    if (is_fitted(spec)) {
        object.set("fitted_to", spec.fitted_to);
        object.set("fitted_aim_db", Json::numbers(spec.fitted_aim_db));
        if (!spec.fitted_aim_deg.empty()) {
            object.set("fitted_aim_deg", Json::numbers(spec.fitted_aim_deg));
        }
    }
}

} // namespace syntonon
