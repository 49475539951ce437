// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/spec_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <string>

namespace syntonon {
namespace {

const ClassicalSpec usual;

template <class Enum>
std::string_view key_among(std::span<const NamedValue<Enum>> all, Enum value) {
    return std::ranges::find(all, value, &NamedValue<Enum>::value)->key;
}

template <class Enum>
std::string keys_of(std::span<const NamedValue<Enum>> all) {
    std::string text;
    for (std::size_t i = 0; i < all.size(); ++i) {
        text += (i == 0 ? "" : i + 1 == all.size() ? " or " : ", ") + std::string(all[i].key);
    }
    return text;
}

// Absent it stays as it is.
template <class Enum>
void read_named(ObjectReader& object, std::string_view key, std::span<const NamedValue<Enum>> all,
                Enum& value) {
    if (!object.has(key)) {
        return;
    }
    const std::string text = object.text(key);
    const auto known = std::ranges::find(all, text, &NamedValue<Enum>::key);
    if (known == all.end()) {
        object.fail(key, fmt::format("“{}” is not known to this version", text),
                    "use " + keys_of(all));
        return;
    }
    value = known->value;
}

void read_edges(ObjectReader& object, std::string_view key, ClassicalBand band,
                std::array<double, 2>& edges) {
    const auto given = object.numbers(key);
    const std::size_t wanted = has_two_edges(band) ? 2 : 1;
    // A second one may be kept from when it was a band.
    if (given.size() < wanted || given.size() > 2) {
        object.fail(key, fmt::format("are {} edges", given.size()),
                    wanted == 2 ? "give two" : "give one");
        return;
    }
    std::ranges::copy(given, edges.begin());
}

Json edges_json(const std::array<double, 2>& edges, const std::array<double, 2>& otherwise,
                ClassicalBand band) {
    const bool both = has_two_edges(band) || edges[1] != otherwise[1];
    return Json::numbers({edges.begin(), edges.begin() + (both ? 2 : 1)});
}

void read_tolerances(ObjectReader object, ClassicalBand band, Tolerances& t) {
    read_edges(object, "pass_edges_hz", band, t.pass_edges_hz);
    read_edges(object, "stop_edges_hz", band, t.stop_edges_hz);
    t.pass_as_ratio = object.has("pass_ratio");
    t.stop_as_ratio = object.has("stop_ratio");
    for (const auto& [in_db, as_ratio] :
         {std::pair{"pass_ripple_db", "pass_ratio"}, {"stop_attenuation_db", "stop_ratio"}}) {
        if (object.has(in_db) == object.has(as_ratio)) {
            object.fail(in_db,
                        object.has(in_db) ? fmt::format("says what {} says, too", as_ratio)
                                          : "is missing",
                        fmt::format("give {} or {}", in_db, as_ratio));
        }
    }
    t.pass_ripple_db = object.number_or("pass_ripple_db", t.pass_ripple_db);
    t.stop_attenuation_db = object.number_or("stop_attenuation_db", t.stop_attenuation_db);
    t.stop_ratio = object.number_or("stop_ratio", t.stop_ratio);
    if (t.pass_as_ratio) {
        const auto given = object.numbers("pass_ratio");
        if (given.size() == 2) {
            std::ranges::copy(given, t.pass_ratio.begin());
        } else {
            object.fail("pass_ratio", fmt::format("are {} numbers", given.size()),
                        "give the lowest and the highest");
        }
    }
    t.unknown = object.unknown();
}

Json tolerances_json(const Tolerances& t, ClassicalBand band) {
    Json json;
    json.set("pass_edges_hz", edges_json(t.pass_edges_hz, usual.tolerances.pass_edges_hz, band));
    json.set("stop_edges_hz", edges_json(t.stop_edges_hz, usual.tolerances.stop_edges_hz, band));
    if (t.pass_as_ratio) {
        json.set("pass_ratio", Json::numbers({t.pass_ratio.begin(), t.pass_ratio.end()}));
    } else {
        json.set("pass_ripple_db", t.pass_ripple_db);
    }
    if (t.stop_as_ratio) {
        json.set("stop_ratio", t.stop_ratio);
    } else {
        json.set("stop_attenuation_db", t.stop_attenuation_db);
    }
    json.set_unknown(t.unknown);
    return json;
}

void read_by_order(ObjectReader& object, ClassicalSpec& spec) {
    const bool needed = !spec.by_tolerances;
    if (needed && !object.has("order")) {
        object.fail("order", "is missing", "give an order and edges_hz, or a spec");
    }
    spec.order = object.integer_or("order", spec.order);
    if (needed || object.has("edges_hz")) {
        read_edges(object, "edges_hz", spec.band, spec.edges_hz);
    }
    const auto level = [&](std::string_view key, bool has, double& value) {
        value = needed && has ? object.number(key) : object.number_or(key, value);
    };
    level("pass_ripple_db", has_pass_ripple(spec.family), spec.pass_ripple_db);
    level("stop_attenuation_db", has_stop_attenuation(spec.family), spec.stop_attenuation_db);
}

void read_sections(ObjectReader object, ClassicalSpec& spec) {
    read_named(object, "pairing", names_of_pairings(), spec.sections.pairing);
    read_named(object, "order", names_of_section_orders(), spec.sections.order);
    read_named(object, "gain", names_of_section_gains(), spec.sections.gain);
    spec.unknown_of_sections = object.unknown();
}

// What is not in force is written only where it is not as usual, so that it is not lost.
void write_by_order(Json& object, const ClassicalSpec& spec) {
    const bool in_force = !spec.by_tolerances;
    if (in_force || spec.order != usual.order) {
        object.set("order", spec.order);
    }
    if (in_force || spec.edges_hz != usual.edges_hz) {
        object.set("edges_hz", edges_json(spec.edges_hz, usual.edges_hz, spec.band));
    }
    if ((in_force && has_pass_ripple(spec.family)) || spec.pass_ripple_db != usual.pass_ripple_db) {
        object.set("pass_ripple_db", spec.pass_ripple_db);
    }
    if ((in_force && has_stop_attenuation(spec.family))
        || spec.stop_attenuation_db != usual.stop_attenuation_db) {
        object.set("stop_attenuation_db", spec.stop_attenuation_db);
    }
}

} // namespace

void read_spec(ObjectReader& object, ClassicalSpec& spec) {
    for (const char* key : {"family", "band"}) {
        if (!object.has(key)) {
            object.fail(key, "is missing", "name one");
        }
    }
    read_named(object, "family", names_of_families(), spec.family);
    read_named(object, "band", names_of_bands(), spec.band);
    const std::string stated_by =
        object.text_or("stated_by", object.has("spec") ? "spec" : "order");
    if (stated_by != "spec" && stated_by != "order") {
        object.fail("stated_by", fmt::format("“{}” is no way to state a filter", stated_by),
                    "use spec or order");
    }
    spec.by_tolerances = stated_by == "spec";
    read_by_order(object, spec);
    if (spec.by_tolerances || object.has("spec")) {
        read_tolerances(object.object("spec"), spec.band, spec.tolerances);
    }
    read_named(object, "better", names_of_betters(), spec.better);
    read_named(object, "normalised_to", names_of_bessel_edges(), spec.normalised_to);
    read_named(object, "mapping", names_of_mappings(), spec.mapping);
    if (object.has("sections")) {
        read_sections(object.object("sections"), spec);
    }
}

void write_spec(Json& object, const ClassicalSpec& spec) {
    object.set("family", key_among(names_of_families(), spec.family));
    object.set("band", key_among(names_of_bands(), spec.band));
    if (!spec.by_tolerances && spec.tolerances != usual.tolerances) {
        object.set("stated_by", "order");
    }
    write_by_order(object, spec);
    if (spec.by_tolerances || spec.tolerances != usual.tolerances) {
        object.set("spec", tolerances_json(spec.tolerances, spec.band));
    }
    if (spec.by_tolerances || spec.better != usual.better) {
        object.set("better", key_among(names_of_betters(), spec.better));
    }
    if (spec.family == ClassicalFamily::bessel || spec.normalised_to != usual.normalised_to) {
        object.set("normalised_to", key_among(names_of_bessel_edges(), spec.normalised_to));
    }
    if (spec.mapping != usual.mapping) {
        object.set("mapping", key_among(names_of_mappings(), spec.mapping));
    }
    if (spec.sections != usual.sections || spec.unknown_of_sections != usual.unknown_of_sections) {
        Json sections;
        sections.set("pairing", key_among(names_of_pairings(), spec.sections.pairing));
        sections.set("order", key_among(names_of_section_orders(), spec.sections.order));
        sections.set("gain", key_among(names_of_section_gains(), spec.sections.gain));
        sections.set_unknown(spec.unknown_of_sections);
        object.set("sections", std::move(sections));
    }
}

} // namespace syntonon
