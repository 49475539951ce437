// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/delivered_files.h"

#include "core/exchange/form_text.h"
#include "core/exchange/instrument_files.h"
#include "core/exchange/sound_taps.h"

#include <utility>

namespace syntonon {
namespace {

bool is_table(FileFormat format) {
    return format == FileFormat::csv || format == FileFormat::json || format == FileFormat::c_header
           || format == FileFormat::text;
}

// Words that are the numbers of sections, written as values.
bool are_sections(const DeliveredChannel& channel) {
    return !channel.words || network_of(channel.words->structure, false).coefficients.size() == 5;
}

Expected<std::string> table_text(const DeliveredChannel& channel, const Delivery& delivery) {
    CoefficientLayout layout = delivery.layout;
    if (!channel.words) {
        return coefficient_text(channel.set, layout, delivery.indexed);
    }
    if (!is_read_back(channel, delivery)) {
        if (layout.format == FileFormat::json) {
            return refuse("format", "JSON holds sections, and this structure has other numbers",
                          "choose text, CSV, a C header or hexadecimal words");
        }
        return word_table_text(channel, layout, delivery.indexed);
    }
    static_cast<SectionConvention&>(layout) = channel.convention;
    layout.number = NumberType::real64;
    layout.digits = 17;
    return coefficient_text(set_of_words(channel), layout, delivery.indexed);
}

Expected<std::string> sound_text(const DeliveredChannel& channel) {
    const CoefficientSet set = set_of_words(channel);
    if (!set.cascade.sections.empty()) {
        return refuse("channel " + channel.id,
                      "has sections, and a sound file holds the taps of an FIR",
                      "choose coefficients for it, or make it of taps alone");
    }
    std::vector<double> taps = set.taps.empty() ? std::vector<double>{1} : set.taps;
    taps.insert(taps.begin(), set.delay_samples, 0.0);
    return sound_of_taps(taps, set.sample_rate_hz, SoundFormat::wav);
}

Expected<std::string> single_text(const DeliveredChannel& channel, const Delivery& delivery) {
    switch (delivery.layout.format) {
    case FileFormat::hex_words:
        return hex_words_text(channel, delivery.indexed);
    case FileFormat::cpp_class:
        return cpp_class_text(channel);
    case FileFormat::wav:
        return sound_text(channel);
    case FileFormat::form:
        return form_text(channel, delivery.name, delivery.form);
    default:
        break;
    }
    return table_text(channel, delivery);
}

} // namespace

std::vector<std::string> endings_of(const Delivery& delivery) {
    if (delivery.layout.format == FileFormat::verilog) {
        return {".v", "_bench.v", "_sections.hex", "_taps.hex", "_in.hex", "_out.hex"};
    }
    if (delivery.layout.format == FileFormat::cpp_class) {
        return {".hpp", "_test.cpp"};
    }
    if (is_of_stages(delivery.layout.format)) {
        const auto endings =
            delivery.layout.format == FileFormat::lv2 ? lv2_endings() : instrument_endings();
        return {endings.begin(), endings.end()};
    }
    if (delivery.layout.format == FileFormat::form) {
        // The pattern may bring its own.
        return {delivery.file_pattern.find('.') == std::string::npos ? ".txt" : ""};
    }
    return {std::string(extension_of(delivery.layout.format))};
}

Expected<std::vector<DeliveredText>> texts_of_stages(const Study& study, const Channel& channel,
                                                     const Delivery& delivery, Briefs& briefs) {
    if (!delivery.processor.empty()) {
        return refuse("processor", "an instrument works in doubles, and has no processor's words",
                      "choose no processor, or a C++ class");
    }
    return instrument_of(study, channel, briefs).map([&](const Instrument& made) {
        return delivery.layout.format == FileFormat::lv2 ? lv2_texts(made) : instrument_texts(made);
    });
}

bool is_read_back(const DeliveredChannel& channel, const Delivery& delivery) {
    const bool as_whole_numbers = channel.words && delivery.layout.format == FileFormat::c_header;
    return is_table(delivery.layout.format) && are_sections(channel) && !as_whole_numbers;
}

Expected<std::vector<DeliveredText>> delivered_texts(const DeliveredChannel& channel,
                                                     const Delivery& delivery,
                                                     const std::string& stem) {
    if (delivery.layout.format == FileFormat::verilog) {
        return verilog_texts(channel, stem);
    }
    auto text = single_text(channel, delivery);
    if (!text) {
        return tl::unexpected(text.error());
    }
    std::vector<DeliveredText> texts = {{endings_of(delivery).front(), std::move(*text)}};
    const bool is_fixed = channel.words && channel.words->section_words.is_fixed();
    if (delivery.layout.format == FileFormat::cpp_class && is_fixed) {
        texts.push_back({"_test.cpp", cpp_test_text(channel, stem)});
    }
    return texts;
}

} // namespace syntonon
