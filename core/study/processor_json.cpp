// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/processor_json.h"

#include "core/base/file.h"
#include "core/study/delivery_json.h"
#include "core/study/named_json.h"

#include <array>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

constexpr std::string_view processor_format = "syntonon-processor";
constexpr int processor_version = 1;
constexpr std::size_t most_bytes_of_profile = 1'000'000;

constexpr std::array roundings =
    std::to_array<NamedValue<Rounding>>({{Rounding::truncate, "truncate", ""},
                                         {Rounding::nearest, "nearest", ""},
                                         {Rounding::convergent, "convergent", ""}});
constexpr std::array overflows = std::to_array<NamedValue<Overflow>>(
    {{Overflow::saturate, "saturate", ""}, {Overflow::wrap, "wrap", ""}});

void read_word(ObjectReader& object, std::string_view key, int most_bits, Word& word) {
    if (!object.has(key)) {
        return;
    }
    if (const auto read = word_from_text(object.text(key), most_bits)) {
        word = *read;
    } else {
        object.fail(key, read.error().reason, read.error().way_out);
    }
}

Arithmetic read_arithmetic(ObjectReader object, const Arithmetic& otherwise) {
    Arithmetic how = otherwise;
    read_word(object, "coefficient", most_word_bits, how.coefficient);
    how.shift = object.integer_or("shift", how.shift);
    read_word(object, "data", most_word_bits, how.data);
    how.state = object.has("state") ? how.state : how.data;
    read_word(object, "state", most_word_bits, how.state);
    read_word(object, "accumulator", most_accumulator_bits, how.accumulator);
    read_named<Rounding>(object, "rounding", roundings, how.rounding);
    read_named<Overflow>(object, "overflow", overflows, how.overflow);
    read_named<Overflow>(object, "accumulator_overflow", overflows, how.accumulator_overflow);
    object.unknown();
    return how;
}

Json arithmetic_json(const Arithmetic& how) {
    Json object;
    object.set("coefficient", text_of(how.coefficient));
    if (how.is_fixed()) {
        object.set("shift", how.shift);
    }
    object.set("data", text_of(how.data));
    object.set("state", text_of(how.state));
    object.set("accumulator", text_of(how.accumulator));
    if (how.is_fixed()) {
        object.set("rounding", key_of(how.rounding));
        object.set("overflow", key_of(how.overflow));
        object.set("accumulator_overflow", key_of(how.accumulator_overflow));
    }
    return object;
}

std::optional<int> optional_count(ObjectReader& object, std::string_view key) {
    return object.has(key) ? std::optional(object.integer_or(key, 0)) : std::nullopt;
}

std::vector<int> read_block_frames(ObjectReader& object) {
    std::vector<int> sizes;
    for (const double frames : object.numbers("block_frames")) {
        // What is no whole number of a sensible size is left for check() to refuse.
        sizes.push_back(frames >= 1 && frames <= 1e6 && frames == std::floor(frames)
                            ? static_cast<int>(frames)
                            : 0);
    }
    return sizes;
}

void read_costs(ObjectReader& object, Processor& p) {
    p.most_sections = optional_count(object, "most_sections");
    p.most_taps = optional_count(object, "most_taps");
    p.tap_cycles = object.number_or("tap_cycles", p.tap_cycles);
    if (object.has("block_convolution")) {
        ObjectReader block = object.object("block_convolution");
        BlockConvolution read;
        read.part_taps = block.integer_or("part_taps", read.part_taps);
        read.transform_cycles = block.number_or("transform_cycles", read.transform_cycles);
        read.bin_cycles = block.number_or("bin_cycles", read.bin_cycles);
        block.unknown();
        p.block_convolution = read;
    }
    p.channel_cycles = object.number_or("channel_cycles", p.channel_cycles);
    p.block_cycles = object.number_or("block_cycles", p.block_cycles);
    p.coefficient_words = object.optional_number("coefficient_words");
    p.state_words = object.optional_number("state_words");
    if (object.has("block_frames")) {
        p.block_frames = read_block_frames(object);
    }
    p.clock_hz = object.number_or("clock_hz", p.clock_hz);
    p.usable_share = object.number_or("usable_share", p.usable_share);
    p.converter_samples = object.number_or("converter_samples", p.converter_samples);
}

void write_costs(Json& object, const Processor& p) {
    if (p.most_sections) {
        object.set("most_sections", *p.most_sections);
    }
    if (p.most_taps) {
        object.set("most_taps", *p.most_taps);
    }
    object.set("tap_cycles", p.tap_cycles);
    if (p.block_convolution) {
        Json block;
        block.set("part_taps", p.block_convolution->part_taps);
        block.set("transform_cycles", p.block_convolution->transform_cycles);
        block.set("bin_cycles", p.block_convolution->bin_cycles);
        object.set("block_convolution", block);
    }
    object.set("channel_cycles", p.channel_cycles);
    object.set("block_cycles", p.block_cycles);
    if (p.coefficient_words) {
        object.set("coefficient_words", *p.coefficient_words);
    }
    if (p.state_words) {
        object.set("state_words", *p.state_words);
    }
    object.set("block_frames",
               Json::numbers(std::vector<double>(p.block_frames.begin(), p.block_frames.end())));
    object.set("clock_hz", p.clock_hz);
    object.set("usable_share", p.usable_share);
    object.set("converter_samples", p.converter_samples);
}

} // namespace

Processor read_processor(ObjectReader object) {
    Processor p;
    p.id = object.text("id");
    p.name = object.text_or("name", p.id);
    p.note = object.text_or("note", "");
    p.sample_rates_hz = object.numbers("sample_rates_hz");
    if (object.has("section_words")) {
        p.section_words = read_arithmetic(object.object("section_words"), {});
    }
    p.tap_words = p.section_words;
    if (object.has("tap_words")) {
        p.tap_words = read_arithmetic(object.object("tap_words"), p.section_words);
    }
    if (object.has("structures")) {
        p.structures.clear();
        object.each("structures", [&](ObjectReader each) {
            StructureCycles read;
            read_named<Structure>(each, "structure", structures(), read.structure);
            read.cycles = each.number_or("cycles", read.cycles);
            each.unknown();
            p.structures.push_back(read);
        });
    }
    p.b_below = object.optional_number("b_below");
    p.a_below = object.optional_number("a_below");
    read_convention(object, p.convention);
    read_costs(object, p);
    p.unknown = object.unknown();
    if (auto ok = check(p); !ok) {
        object.fail(ok.error().place, ok.error().reason, ok.error().way_out);
    }
    return p;
}

namespace {

Json& write_processor(Json& object, const Processor& p) {
    object.set("id", p.id);
    object.set("name", p.name);
    if (!p.note.empty()) {
        object.set("note", p.note);
    }
    if (!p.sample_rates_hz.empty()) {
        object.set("sample_rates_hz", Json::numbers(p.sample_rates_hz));
    }
    object.set("section_words", arithmetic_json(p.section_words));
    object.set("tap_words", arithmetic_json(p.tap_words));
    object.set("structures", list_json(p.structures, [](const StructureCycles& each) {
                   Json one;
                   one.set("structure", key_of_named<Structure>(structures(), each.structure));
                   return one.set("cycles", each.cycles);
               }));
    if (p.b_below) {
        object.set("b_below", *p.b_below);
    }
    if (p.a_below) {
        object.set("a_below", *p.a_below);
    }
    write_convention(object, p.convention);
    write_costs(object, p);
    return object.set_unknown(p.unknown);
}

} // namespace

Json processor_json(const Processor& p) {
    Json object;
    return write_processor(object, p);
}

Expected<ProcessorFile> processor_from_json(std::string_view text) {
    const auto json = checked_json(text);
    if (!json) {
        return tl::unexpected(json.error());
    }
    ReadLog log;
    ObjectReader object(*json, "", log);
    check_head(object, processor_format, processor_version);
    ProcessorFile file;
    if (!log.problem) {
        file.processor = read_processor(std::move(object));
    }
    if (log.problem) {
        return tl::unexpected(std::move(*log.problem));
    }
    file.warnings = std::move(log.warnings);
    return file;
}

std::string json_from_processor(const Processor& processor) {
    Json object;
    object.set("format", processor_format);
    object.set("version", processor_version);
    return write_processor(object, processor).text() + "\n";
}

Expected<ProcessorFile> load_processor(const std::filesystem::path& path) {
    const auto bytes = read_file(path, most_bytes_of_profile);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto read = processor_from_json(*bytes);
    if (!read) {
        return tl::unexpected(in_file(path.string(), read.error()));
    }
    return read;
}

Expected<void> save_processor(const Processor& processor, const std::filesystem::path& path) {
    return write_file_atomically(path, json_from_processor(processor));
}

Expected<Processor> processor_by_name(const Study& study, const std::string& name) {
    if (name.ends_with(processor_file_ending)) {
        return load_processor(name).map([](const ProcessorFile& file) { return file.processor; });
    }
    if (const Processor* processor = processor_of(study, name)) {
        return *processor;
    }
    std::string ids;
    for (const Processor& shipped : shipped_processors()) {
        ids += (ids.empty() ? "" : ", ") + shipped.id;
    }
    return refuse("", fmt::format("there is no processor called “{}”", name),
                  fmt::format("use {}, or a file {}", ids, processor_file_ending));
}

} // namespace syntonon
