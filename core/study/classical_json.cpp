// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/named_json.h"
#include "core/study/spec_json.h"
#include "core/study/tolerances_json.h"

#include <algorithm>
#include <fmt/format.h>
#include <string>

namespace syntonon {
namespace {

const ClassicalSpec usual;

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
    object.set("family", key_of_named(names_of_families(), spec.family));
    object.set("band", key_of_named(names_of_bands(), spec.band));
    if (!spec.by_tolerances && spec.tolerances != usual.tolerances) {
        object.set("stated_by", "order");
    }
    write_by_order(object, spec);
    if (spec.by_tolerances || spec.tolerances != usual.tolerances) {
        object.set("spec", tolerances_json(spec.tolerances, spec.band));
    }
    if (spec.by_tolerances || spec.better != usual.better) {
        object.set("better", key_of_named(names_of_betters(), spec.better));
    }
    if (spec.family == ClassicalFamily::bessel || spec.normalised_to != usual.normalised_to) {
        object.set("normalised_to", key_of_named(names_of_bessel_edges(), spec.normalised_to));
    }
    if (spec.mapping != usual.mapping) {
        object.set("mapping", key_of_named(names_of_mappings(), spec.mapping));
    }
    if (spec.sections != usual.sections || spec.unknown_of_sections != usual.unknown_of_sections) {
        Json sections;
        sections.set("pairing", key_of_named(names_of_pairings(), spec.sections.pairing));
        sections.set("order", key_of_named(names_of_section_orders(), spec.sections.order));
        sections.set("gain", key_of_named(names_of_section_gains(), spec.sections.gain));
        sections.set_unknown(spec.unknown_of_sections);
        object.set("sections", std::move(sections));
    }
}

} // namespace syntonon
