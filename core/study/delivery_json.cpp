// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/delivery_json.h"

#include "core/study/device_target_json.h"
#include "core/study/named_json.h"

#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

template <class T>
T layout_choice(ObjectReader& object, std::string_view key, T otherwise,
                std::optional<T> (*from_key)(std::string_view), const char* known) {
    const std::string text = object.text_or(key, std::string(key_of(otherwise)));
    const auto value = from_key(text);
    if (!value) {
        object.fail(key, fmt::format("“{}” is not known", text), fmt::format("use {}", known));
    }
    return value.value_or(otherwise);
}

CoefficientLayout read_layout(ObjectReader& object) {
    CoefficientLayout layout;
    layout.format = layout_choice(object, "format", layout.format, file_format_from_key,
                                  "csv, json, c_header, text, cpp_class, hex_words, verilog, wav "
                                  "or form");
    layout.number =
        layout_choice(object, "number", layout.number, number_type_from_key, "double or float");
    read_convention(object, layout);
    layout.digits = object.integer_or("digits", layout.digits);
    if (auto ok = check(layout); !ok) {
        object.fail(ok.error().place, ok.error().reason, ok.error().way_out);
    }
    return layout;
}

FoundWords read_found(ObjectReader object, Structure structure) {
    FoundWords found;
    found.channel = object.text("channel");
    found.fitted_to = object.text("fitted_to");
    object.each("sections", [&](ObjectReader section) {
        StructuredSection read{section.boolean_or("real_poles", false), section.numbers("words")};
        const std::size_t wanted = network_of(structure, read.real_poles).coefficients.size();
        if (read.values.size() != wanted) {
            section.fail("words",
                         fmt::format("are {}, and {} has {} a section", read.values.size(),
                                     named(structures(), structure).key, wanted),
                         "remove what was found and search again");
        }
        for (const double value : read.values) {
            if (!std::isfinite(value)) {
                section.fail("words", "hold what is no number", "search again");
            }
        }
        section.unknown();
        found.sections.push_back(std::move(read));
    });
    found.taps = object.numbers("taps");
    found.worst_db = object.number_or("worst_db", 0);
    found.unknown = object.unknown();
    return found;
}

Json found_json(const FoundWords& found) {
    Json object;
    object.set("channel", found.channel).set("fitted_to", found.fitted_to);
    object.set("sections", list_json(found.sections, [](const StructuredSection& section) {
                   Json each;
                   if (section.real_poles) {
                       each.set("real_poles", true);
                   }
                   each.set("words", Json::numbers(section.values));
                   return each;
               }));
    if (!found.taps.empty()) {
        object.set("taps", Json::numbers(found.taps));
    }
    object.set("worst_db", found.worst_db);
    return object.set_unknown(found.unknown);
}

void read_processor_of(ObjectReader& object, Delivery& delivery) {
    delivery.processor = object.text_or("processor", "");
    read_named<Structure>(object, "structure", structures(), delivery.structure);
    delivery.searched = object.boolean_or("searched", false);
    delivery.block_frames = object.integer_or("block_frames", 0);
    if (delivery.block_frames < 0) {
        object.fail("block_frames", "is negative", "leave it out for the processor's first size");
    }
    object.each("found", [&](ObjectReader found) {
        delivery.found.push_back(read_found(std::move(found), delivery.structure));
    });
}

void write_processor_of(Json& object, const Delivery& delivery) {
    if (delivery.processor.empty() && delivery.structure == Structure::direct_form_1
        && !delivery.searched && delivery.block_frames == 0 && delivery.found.empty()) {
        return;
    }
    object.set("processor", delivery.processor);
    object.set("structure", key_of_named<Structure>(structures(), delivery.structure));
    if (delivery.searched) {
        object.set("searched", true);
    }
    if (delivery.block_frames != 0) {
        object.set("block_frames", delivery.block_frames);
    }
    if (!delivery.found.empty()) {
        object.set("found", list_json(delivery.found, found_json));
    }
}

} // namespace

void read_convention(ObjectReader& object, SectionConvention& convention) {
    convention.feedback = layout_choice(object, "feedback", convention.feedback,
                                        feedback_sign_from_key, "subtracted or added");
    convention.normalisation = layout_choice(object, "normalisation", convention.normalisation,
                                             normalisation_from_key, "a0_one, b0_one or a0_half");
    if (const auto order = order_from_text(object.text_or("order", order_text(convention.order)))) {
        convention.order = *order;
    } else {
        object.fail("order", order.error().reason, order.error().way_out);
    }
}

void write_convention(Json& object, const SectionConvention& convention) {
    object.set("feedback", key_of(convention.feedback));
    object.set("normalisation", key_of(convention.normalisation));
    object.set("order", order_text(convention.order));
}

Delivery read_delivery(ObjectReader object) {
    Delivery delivery;
    delivery.id = object.text("id");
    delivery.name = object.text_or("name", delivery.id);
    delivery.channels = object.texts("channels");
    delivery.layout = read_layout(object);
    delivery.file_pattern = object.text_or("file_pattern", "");
    delivery.indexed = object.boolean_or("indexed", true);
    delivery.form = object.text_or("form", "");
    read_processor_of(object, delivery);
    if (object.has("device")) {
        delivery.device = read_device_target(object.object("device"));
    }
    delivery.unknown = object.unknown();
    return delivery;
}

Json delivery_json(const Delivery& delivery) {
    Json object;
    object.set("id", delivery.id);
    object.set("name", delivery.name);
    if (!delivery.channels.empty()) {
        object.set("channels", list_json(delivery.channels, [](const std::string& id) {
                       return std::string_view(id);
                   }));
    }
    object.set("format", key_of(delivery.layout.format));
    object.set("number", key_of(delivery.layout.number));
    write_convention(object, delivery.layout);
    object.set("digits", delivery.layout.digits);
    if (!delivery.file_pattern.empty()) {
        object.set("file_pattern", delivery.file_pattern);
    }
    if (!delivery.indexed) {
        object.set("indexed", false);
    }
    if (!delivery.form.empty()) {
        object.set("form", delivery.form);
    }
    write_processor_of(object, delivery);
    if (delivery.device != DeviceTarget()) {
        object.set("device", device_target_json(delivery.device));
    }
    return object.set_unknown(delivery.unknown);
}

} // namespace syntonon
