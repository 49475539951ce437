// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/digest.h"
#include "core/base/number_text.h"
#include "core/design/ladder.h"
#include "core/design/state_variable.h"
#include "core/exchange/instrument_files.h"
#include "core/exchange/kernel_text.h"
#include "core/study/named_json.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

// Kernels of different versions may stand in one program: what they are is in their name.
std::string kernel_name() {
    const std::string digest = digest_of(kernel_text()); // "xxh3-0123456789abcdef"
    return "syntonon_kernels_" + digest.substr(digest.size() - 8);
}

std::string named_kernels() {
    constexpr std::string_view own = "syntonon::modelled";
    std::string text(kernel_text());
    const std::string name = kernel_name();
    for (std::size_t at = 0; (at = text.find(own, at)) != std::string::npos; at += name.size()) {
        text.replace(at, own.size(), name);
    }
    return text;
}

std::string flag(bool value) {
    return value ? "true" : "false";
}

class InstrumentHeader {
public:
    explicit InstrumentHeader(const Instrument& instrument) : of_(instrument) {}

    std::string text() {
        head();
        line("template <std::size_t Voices = 1>");
        line("class {} {{", of_.class_name);
        line("public:");
        line("    using Row = std::array<double, Voices>; // a sample of each voice");
        line("    struct Parameter {{");
        line("        const char *symbol, *name, *unit;");
        line("        double least, most, usual;");
        line("        bool by_ratio;");
        line("    }};");
        parameter_table();
        line("    static constexpr double designed_rate_hz = {};",
             source_number(of_.sample_rate_hz));
        line("    // Whether sections or delays in it are right at that rate alone.");
        line("    static constexpr bool is_of_one_rate = {};", flag(of_.is_of_one_rate()));
        setting_up();
        setting();
        processing();
        line("\nprivate:");
        own_parts();
        line("}};\n");
        line("}} // namespace {}", name_space());
        return std::move(out_);
    }

private:
    template <class... Values>
    void line(fmt::format_string<Values...> format, Values&&... values) {
        out_ += fmt::format(format, std::forward<Values>(values)...) + "\n";
    }
    static std::string name_space() { return "syntonon_made"; }

    void head() {
        line("// {} of the study {}, as an instrument: made by Syntonon.", one_line(of_.title),
             one_line(of_.study));
        line("// May be used, changed and handed on without conditions.");
        line("// SPDX-License-Identifier: 0BSD");
        line("//");
        line("// No allocation and no dependency but the standard headers (C++20). Compile with");
        line("// -ffp-contract=off where every bit must be the bench's, and with -O3");
        line("// -fno-trapping-math -fno-math-errno for many voices at a time.");
        line("#pragma once\n");
        for (const char* header : {"algorithm", "array", "cmath", "cstddef", "span", "utility"}) {
            line("#include <{}>", header);
        }
        const std::string guard = kernel_name() + "_are_there";
        line("\n#ifndef {}", guard);
        line("#define {}\n", guard);
        out_ += named_kernels();
        line("#endif // {}\n", guard);
        line("namespace {} {{\n", name_space());
        line("namespace kernels = {};\n", kernel_name());
    }

    void parameter_table() {
        line("    static constexpr std::size_t parameters = {};", of_.parameters.size());
        line("    static constexpr std::array<Parameter, parameters> parameter = {{{{");
        for (const InstrumentParameter& p : of_.parameters) {
            line("        {{\"{}\", \"{}\", \"{}\", {}, {}, {}, {}}},", p.symbol, p.name, p.unit,
                 source_number(p.least), source_number(p.most), source_number(p.usual),
                 flag(p.by_ratio));
        }
        line("    }}}};");
    }

    std::string build_text(const LadderModel& model) const {
        const auto& b = model.build;
        return fmt::format(
            "{{kernels::LadderType::{}, kernels::LadderResponse::{}, {}, {}, {}, {}}}",
            key_of_named(names_of_ladder_types(), b.type),
            key_of_named(names_of_ladder_responses(), b.response), flag(b.saturating),
            flag(b.prewarped), source_number(b.bass_compensation), b.doublings);
    }
    std::string build_text(const StateVariableModel& model) const {
        const auto& b = model.build;
        return fmt::format("{{kernels::StateVariableResponse::{}, {}, {}, {}, {}}}",
                           key_of_named(names_of_state_variable_responses(), b.response),
                           flag(b.saturating), flag(b.prewarped), b.in_series, b.doublings);
    }

    void setting_up() {
        line("\n    {}() {{ prepare(designed_rate_hz); }}", of_.class_name);
        line("\n    // Everything at rest, all parameters as usual.");
        line("    void prepare(double sample_rate_hz) {{");
        line("        share_ = kernels::glide_share(sample_rate_hz);");
        for (std::size_t i = 0; i < of_.parts.size(); ++i) {
            std::visit([&](const auto& what) { prepare_part(i, what); }, of_.parts[i].what);
        }
        line("        for (std::size_t i = 0; i < parameters; ++i) {{");
        line("            glides_[i].jump(parameter[i].usual, parameter[i].by_ratio);");
        line("        }}");
        line("        gliding_ = false;");
        for (std::size_t i = 0; i < of_.parts.size(); ++i) {
            if (is_set(of_.parts[i])) {
                line("        apply_{}();", i);
            }
        }
        line("        reset();");
        line("    }}");
        line("    void reset() {{");
        line("        for (std::size_t j = 0; j < Voices; ++j) {{\n            reset(j);\n        "
             "}}");
        line("    }}");
        line("    void reset([[maybe_unused]] std::size_t voice) {{");
        for (std::size_t i = 0; i < of_.parts.size(); ++i) {
            const auto& what = of_.parts[i].what;
            if (std::holds_alternative<DelayPart>(what)) {
                line("        for (Row& row : delayed_{}_) {{\n            row[voice] = 0;\n       "
                     " }}",
                     i);
            } else if (!std::holds_alternative<GainPart>(what)) {
                line("        part_{}_.reset(voice);", i);
            }
        }
        line("    }}");
    }

    template <class Model>
    void prepare_part(std::size_t i, const Model& model) requires requires {
        model.build;
    }
    { line("        part_{}_.prepare({}, sample_rate_hz);", i, build_text(model)); }
    template <class Other>
    void prepare_part(std::size_t, const Other&) {}

    static bool is_set(const InstrumentPart& part) {
        return part.frequency || part.resonance || part.gain || part.drive;
    }

    void setting() {
        line("\n    // Of all voices; it glides there within some 20 ms.");
        line("    void set(std::size_t which, double value) {{");
        line("        const Parameter& p = parameter[which];");
        line("        const bool is_within = value >= p.least && value <= p.most;");
        line("        glides_[which].send(is_within ? value : value > p.most ? p.most : p.least);");
        line("        gliding_ = true;");
        line("    }}");
        const InstrumentPart* played = of_.played();
        if (played == nullptr) {
            return;
        }
        const auto at = static_cast<std::size_t>(played - of_.parts.data());
        line("\n    // Of one voice and at once, for what moves it while it sounds: of “{}”.",
             played->title);
        for (const auto& [name, member, place] :
             {std::tuple("frequency", "frequency_hz", played->frequency),
              {"resonance", "resonance", played->resonance},
              {"drive", "drive_db", played->drive}}) {
            if (place) {
                line("    void set_{}(std::size_t voice, double value) {{", name);
                line("        auto knobs = part_{}_.knobs(voice);", at);
                line("        knobs.{} = value;", member);
                line("        part_{}_.set(voice, knobs);\n    }}", at);
                line("    void set_{}(double value) {{", name);
                line("        for (std::size_t j = 0; j < Voices; ++j) {{");
                line("            set_{}(j, value);\n        }}\n    }}", name);
            }
        }
    }

    void processing() {
        line("\n    // In place; a row holds a sample of each voice.");
        line("    void process(std::span<Row> rows) {{");
        line("        if (!gliding_) {{\n            run(rows);\n            return;\n        }}");
        line("        for (Row& row : rows) {{");
        line("            glide();\n            run({{&row, 1}});\n        }}\n    }}");
        line("    void process(std::span<double> samples) requires(Voices == 1) {{");
        line("        std::array<Row, 64> rows;");
        line("        while (!samples.empty()) {{");
        line("            const std::size_t count = std::min(samples.size(), rows.size());");
        line("            for (std::size_t n = 0; n < count; ++n) {{");
        line("                rows[n][0] = samples[n];\n            }}");
        line("            process(std::span(rows).first(count));");
        line("            for (std::size_t n = 0; n < count; ++n) {{");
        line("                samples[n] = rows[n][0];\n            }}");
        line("            samples = samples.subspan(count);\n        }}\n    }}");
    }

    std::string value_or(std::optional<std::size_t> place, double constant) const {
        return place ? fmt::format("glides_[{}].value()", *place) : source_number(constant);
    }
    std::string knobs_text(const InstrumentPart& part, const LadderModel& model) const {
        return fmt::format("{{{}, {}, {}}}", value_or(part.frequency, model.knobs.frequency_hz),
                           value_or(part.resonance, model.knobs.resonance),
                           value_or(part.drive, model.knobs.drive_db));
    }
    std::string knobs_text(const InstrumentPart& part, const StateVariableModel& model) const {
        const std::string resonance = value_or(part.resonance, model.knobs.resonance);
        return fmt::format("{{{}, {}, {}, {}}}", value_or(part.frequency, model.knobs.frequency_hz),
                           part.by_q ? "1 - 1 / (2 * " + resonance + ")" : resonance,
                           value_or(part.gain, model.knobs.gain_db),
                           value_or(part.drive, model.knobs.drive_db));
    }

    void own_parts() {
        line("    // Each parameter a step further.");
        line("    void glide() {{");
        line("        gliding_ = false;");
        for (std::size_t i = 0; i < of_.parts.size(); ++i) {
            glide_part(i);
        }
        line("    }}");
        for (std::size_t i = 0; i < of_.parts.size(); ++i) {
            std::visit([&](const auto& what) { apply_part(i, what); }, of_.parts[i].what);
        }
        line("\n    void run([[maybe_unused]] std::span<Row> rows) {{");
        for (std::size_t i = 0; i < of_.parts.size(); ++i) {
            std::visit([&](const auto& what) { run_part(i, what); }, of_.parts[i].what);
        }
        line("    }}\n");
        line("    double share_ = 0; // of a way, by sample");
        line("    bool gliding_ = false;");
        line("    std::array<kernels::Glide, parameters> glides_;");
        for (std::size_t i = 0; i < of_.parts.size(); ++i) {
            line("    // {}", one_line(of_.parts[i].title));
            std::visit([&](const auto& what) { hold_part(i, what); }, of_.parts[i].what);
        }
    }

    void glide_part(std::size_t i) {
        const InstrumentPart& part = of_.parts[i];
        if (!is_set(part)) {
            return;
        }
        line("        {{");
        line("            bool moved = false;");
        for (const auto& place : {part.frequency, part.resonance, part.gain, part.drive}) {
            if (place) {
                line("            if (glides_[{}].moves()) {{", *place);
                line("                glides_[{}].step(share_);\n                moved = true;",
                     *place);
                line("            }}");
            }
        }
        line("            if (moved) {{\n                apply_{}();\n                gliding_ = "
             "true;",
             i);
        line("            }}\n        }}");
    }

    template <class Model>
    void apply_part(std::size_t i, const Model& model) requires requires {
        model.build;
    }
    {
        line("    void apply_{}() {{", i);
        line("        for (std::size_t j = 0; j < Voices; ++j) {{");
        line("            part_{}_.set(j, {});\n        }}\n    }}", i,
             knobs_text(of_.parts[i], model));
    }
    void apply_part(std::size_t i, const GainPart& gain) {
        line("    void apply_{0}() {{ factor_{0}_ = {1}std::pow(10, {2} / 20); }}", i,
             gain.sign < 0 ? "-" : "", value_or(of_.parts[i].gain, 0));
    }
    template <class Other>
    void apply_part(std::size_t, const Other&) {}

    template <class Model>
    void run_part(std::size_t i, const Model&) {
        line("        part_{}_.process(rows.data(), rows.size());", i);
    }
    void run_part(std::size_t i, const std::vector<Biquad>&) {
        line("        for (Row& row : rows) {{\n            part_{0}_.step(sections_{0}_, row);\n"
             "        }}",
             i);
    }
    void run_part(std::size_t i, const GainPart&) {
        line("        for (Row& row : rows) {{\n            for (double& x : row) {{\n"
             "                x *= factor_{}_;\n            }}\n        }}",
             i);
    }
    void run_part(std::size_t i, const DelayPart& delay) {
        line("        for (Row& row : rows) {{\n            std::swap(row, "
             "delayed_{0}_[place_{0}_]);\n            place_{0}_ = (place_{0}_ + 1) % {1};\n"
             "        }}",
             i, delay.samples);
    }

    void hold_part(std::size_t i, const LadderModel&) {
        line("    kernels::LadderFilter<Voices> part_{}_;", i);
    }
    void hold_part(std::size_t i, const StateVariableModel&) {
        line("    kernels::StateVariableFilter<Voices> part_{}_;", i);
    }
    void hold_part(std::size_t i, const std::vector<Biquad>& sections) {
        line("    static constexpr std::array<kernels::FixedSection, {}> sections_{}_ = {{{{",
             sections.size(), i);
        for (const Biquad& s : sections) {
            line("        {{{}, {}, {}, {}, {}}},", source_number(s.b0), source_number(s.b1),
                 source_number(s.b2), source_number(s.a1), source_number(s.a2));
        }
        line("    }}}};");
        line("    kernels::FixedSections<Voices, {}> part_{}_;", sections.size(), i);
    }
    void hold_part(std::size_t i, const GainPart&) { line("    double factor_{}_ = 1;", i); }
    void hold_part(std::size_t i, const DelayPart& delay) {
        line("    std::array<Row, {}> delayed_{}_{{}};", delay.samples, i);
        line("    std::size_t place_{}_ = 0;", i);
    }

    const Instrument& of_;
    std::string out_;
};

} // namespace

std::string instrument_header(const Instrument& instrument) {
    return InstrumentHeader(instrument).text();
}

} // namespace syntonon
