// A filter as a C++17 class of its own, written from the structure's network.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/number_text.h"
#include "core/exchange/c_number.h"
#include "core/exchange/coefficient_writers.h"
#include "core/exchange/example_run.h"
#include "core/exchange/source_writers.h"
#include "core/word/fixed_program.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

// The designed channel in doubles, where there is no processor.
WordChain in_doubles(const CoefficientSet& set) {
    WordChain chain{Structure::transposed_form_2, {}, {}, {}, set.taps, set.delay_samples};
    for (const Biquad& section : set.cascade.sections) {
        chain.sections.push_back(*structured(section, chain.structure));
    }
    return chain;
}

std::string float_type(const Word& word) {
    return word.kind == WordKind::float32 ? "float" : "double";
}
std::string fixed_type(int bits) {
    return bits <= 32 ? "std::int32_t" : "std::int64_t";
}

class CppClass {
public:
    CppClass(const DeliveredChannel& channel, WordChain chain)
        : channel_(channel), chain_(std::move(chain)), how_(chain_.section_words),
          is_fixed_(how_.is_fixed()) {}

    Expected<std::string> text() {
        if (is_fixed_) {
            if (const int bits = widest_bits(); bits > 64) {
                return refuse("format",
                              fmt::format("sums of these words need {} bits, and C++ has 64", bits),
                              "choose words with fewer bits, or Verilog");
            }
        }
        head();
        members();
        out_ += "\nprivate:\n";
        numbers();
        if (is_fixed_) {
            fixed_helpers();
        }
        for (const bool real_poles : {false, true}) {
            if (needs_network(real_poles)) {
                section_step(real_poles);
            }
        }
        if (!chain_.taps.empty()) {
            taps_step();
        }
        state();
        out_ += "};\n";
        return std::move(out_);
    }

private:
    template <class... Values>
    void line(fmt::format_string<Values...> format, Values&&... values) {
        out_ += fmt::format(format, std::forward<Values>(values)...) + "\n";
    }

    int widest_bits() const {
        int widest = 0;
        for (const bool real_poles : {false, true}) {
            if (needs_network(real_poles)) {
                widest = std::max(widest, fixed_program(network(real_poles), how_).widest_sum_bits);
            }
        }
        return chain_.taps.empty()
                   ? widest
                   : std::max(widest,
                              fixed_taps(chain_.taps.size(), chain_.tap_words).widest_sum_bits);
    }
    const Network& network(bool real_poles) const {
        return network_of(chain_.structure, real_poles);
    }
    bool needs_network(bool real_poles) const {
        return std::ranges::any_of(chain_.sections, [&](const StructuredSection& section) {
            return section.real_poles == real_poles;
        });
    }
    bool has_both() const { return needs_network(false) && needs_network(true); }

    std::string data_type() const {
        return is_fixed_ ? fixed_type(how_.data.bits()) : float_type(how_.data);
    }
    std::string state_type() const { return is_fixed_ ? "std::int64_t" : float_type(how_.state); }
    std::string sum_type(const Arithmetic& how) const {
        return is_fixed_ ? "std::int64_t" : float_type(how.accumulator);
    }

    void head() {
        out_ += source_head(channel_.set);
        line(
            "// A sample in, a sample out; no allocation, no dependency but the standard headers.");
        if (is_fixed_) {
            line("// Samples are words of the data, {}: value = word times 2^-{}.",
                 text_of(how_.data), how_.data.fraction_bits);
        } else {
            line("// Compile without contraction (-ffp-contract=off) where products and sums must");
            line("// be rounded one by one, as they were when this was compared.");
        }
        line("#pragma once\n\n#include <cstddef>\n#include <cstdint>\n");
    }

    void members() {
        const std::string name = source_name(channel_.set);
        line("class {} {{\npublic:", name);
        line("    using sample = {};", data_type());
        line("    static constexpr double sample_rate_hz = {};",
             text_with_digits(channel_.set.sample_rate_hz, 17));
        line("    static constexpr std::size_t sections = {};", chain_.sections.size());
        line("    static constexpr std::size_t taps = {};", chain_.taps.size());
        line("    static constexpr std::size_t delay_samples = {};", chain_.delay_samples);
        if (is_fixed_) {
            line("    static constexpr int fraction_bits = {};", how_.data.fraction_bits);
        }
        line("\n    sample process(sample x) noexcept {{");
        if (!chain_.sections.empty()) {
            line("        for (std::size_t i = 0; i < sections; ++i) {{");
            if (has_both()) {
                line("            x = is_real_[i] ? step_real(x, i) : step_complex(x, i);");
            } else {
                line("            x = step_{}(x, i);", needs_network(true) ? "real" : "complex");
            }
            line("        }}");
        }
        if (!chain_.taps.empty()) {
            line("        x = convolve(x);");
        }
        if (chain_.delay_samples > 0) {
            line("        const sample out = delayed_[delay_place_];");
            line("        delayed_[delay_place_] = x;");
            line("        delay_place_ = (delay_place_ + 1) % delay_samples;");
            line("        return out;");
        } else {
            line("        return x;");
        }
        line("    }}");
        line("    void process(const sample* in, sample* out, std::size_t count) noexcept {{");
        line("        for (std::size_t n = 0; n < count; ++n) {{");
        line("            out[n] = process(in[n]);\n        }}\n    }}");
        line("    // Back to rest.\n    void reset() noexcept {{ *this = {}(); }}", name);
    }

    std::string number_type(const Arithmetic& how) const {
        return is_fixed_ ? "std::int64_t" : float_type(how.coefficient);
    }

    void numbers() {
        if (!chain_.sections.empty()) {
            const Network& first = network(chain_.sections.front().real_poles);
            line("    // {}", fmt::join(first.coefficients, ", "));
            line("    static constexpr {} numbers_[sections][{}] = {{", number_type(how_),
                 first.coefficients.size());
            for (const StructuredSection& section : chain_.sections) {
                std::vector<std::string> cells;
                for (const double value : section.values) {
                    cells.push_back(c_number(value, how_));
                }
                line("        {{{}}},", fmt::join(cells, ", "));
            }
            line("    }};");
        }
        if (has_both()) {
            std::vector<std::string> flags;
            for (const StructuredSection& section : chain_.sections) {
                flags.emplace_back(section.real_poles ? "true" : "false");
            }
            line("    static constexpr bool is_real_[sections] = {{{}}};", fmt::join(flags, ", "));
        }
        if (!chain_.taps.empty()) {
            std::vector<std::string> cells;
            for (const double tap : chain_.taps) {
                cells.push_back(c_number(tap, chain_.tap_words));
            }
            line("    static constexpr {} taps_[taps] = {{\n        {},\n    }};",
                 number_type(chain_.tap_words), fmt::join(cells, ",\n        "));
        }
    }

    static const char* name_of(Rounding rounding) {
        return rounding == Rounding::truncate  ? "cut_down"
               : rounding == Rounding::nearest ? "to_nearest"
                                               : "to_nearest_even";
    }
    static const char* name_of(Overflow overflow) {
        return overflow == Overflow::saturate ? "saturated" : "wrapped";
    }

    // Rounding and what happens at the ends; only what is used.
    void fixed_helpers() {
        std::vector<Arithmetic> used;
        if (!chain_.sections.empty()) {
            used.push_back(how_);
        }
        if (!chain_.taps.empty()) {
            used.push_back(chain_.tap_words);
        }
        for (const Rounding rounding :
             {Rounding::truncate, Rounding::nearest, Rounding::convergent}) {
            if (std::ranges::find(used, rounding, &Arithmetic::rounding) != used.end()) {
                rounding_helper(rounding);
            }
        }
        for (const Overflow overflow : {Overflow::saturate, Overflow::wrap}) {
            if (std::ranges::find(used, overflow, &Arithmetic::overflow) != used.end()
                || std::ranges::find(used, overflow, &Arithmetic::accumulator_overflow)
                       != used.end()) {
                overflow_helper(overflow);
            }
        }
    }
    void rounding_helper(Rounding rounding) {
        line("\n    // value / 2^places; by a negative number it is multiplied.");
        line("    static std::int64_t {}(std::int64_t value, int places) noexcept {{",
             name_of(rounding));
        line("        if (places <= 0) {{");
        line("            return static_cast<std::int64_t>(static_cast<std::uint64_t>(value) "
             "<< -places);");
        line("        }}");
        line("        const std::int64_t floor = value >> places;");
        if (rounding == Rounding::truncate) {
            line("        return floor;");
        } else if (rounding == Rounding::nearest) {
            line("        return floor + ((value >> (places - 1)) & 1);");
        } else {
            line("        const std::int64_t rest = value - static_cast<std::int64_t>("
                 "static_cast<std::uint64_t>(floor) << places);");
            line("        const std::int64_t half = std::int64_t(1) << (places - 1);");
            line("        return floor + (rest > half || (rest == half && (floor & 1)) ? 1 : 0);");
        }
        line("    }}");
    }
    void overflow_helper(Overflow overflow) {
        line("    static std::int64_t {}(std::int64_t value, int bits) noexcept {{",
             name_of(overflow));
        line("        if (bits >= 64) {{\n            return value;\n        }}");
        line("        const std::int64_t half = std::int64_t(1) << (bits - 1);");
        if (overflow == Overflow::saturate) {
            line("        return value < -half ? -half : value > half - 1 ? half - 1 : value;");
        } else {
            line("        const std::uint64_t mask = (std::uint64_t(1) << bits) - 1;");
            line("        const std::uint64_t kept = static_cast<std::uint64_t>(value) & mask;");
            line("        const std::uint64_t turned = static_cast<std::uint64_t>(half);");
            line("        return static_cast<std::int64_t>((kept ^ turned) - turned);");
        }
        line("    }}");
    }

    std::string signal_text(const NetworkSignal& signal) const {
        switch (signal.from) {
        case NetworkSignal::From::input:
            return "x";
        case NetworkSignal::From::state:
            return fmt::format("s[{}]", signal.index);
        case NetworkSignal::From::sum:
            break;
        }
        return fmt::format("v{}", signal.index);
    }

    void section_step(bool real_poles) {
        const Network& net = network(real_poles);
        line("\n    sample step_{}(sample in, std::size_t i) noexcept {{",
             real_poles ? "real" : "complex");
        line("        const {}* c = numbers_[i];", number_type(how_));
        line("        {}* s = states_[i];", state_type());
        line("        const {} x = in;", is_fixed_ ? "std::int64_t" : data_type());
        if (is_fixed_) {
            fixed_sums(net);
        } else {
            floating_sums(net);
        }
        for (std::size_t k = 0; k < net.next.size(); ++k) {
            line("        const {} next{} = {};", state_type(), k, signal_text(net.next[k]));
        }
        for (std::size_t k = 0; k < net.next.size(); ++k) {
            line("        s[{}] = next{};", k, k);
        }
        if (is_fixed_) {
            line("        return static_cast<sample>({}({}(v{}, {}), {}));", name_of(how_.overflow),
                 name_of(how_.rounding), net.output, fixed_program(net, how_).to_data,
                 how_.data.bits());
        } else {
            line("        return static_cast<sample>(v{});", net.output);
        }
        line("    }}");
    }

    void fixed_sums(const Network& net) {
        const FixedProgram program = fixed_program(net, how_);
        const int bits = how_.accumulator.bits();
        const char* shifted = name_of(how_.rounding);
        const char* summed = name_of(how_.accumulator_overflow);
        for (std::size_t j = 0; j < program.sums.size(); ++j) {
            const bool feeds = net.feeds_error_back && static_cast<int>(j) == net.output;
            line("        std::int64_t a{} = {};", j, feeds ? "errors_[i]" : "0");
            for (const auto& [p, places] : program.sums[j]) {
                const std::string factor = p.coefficient >= 0
                                               ? fmt::format("c[{}] * ", p.coefficient)
                                               : (p.doubled ? "2 * " : "");
                line("        a{} += {}({}{}{}, {});", j, shifted, p.subtracted ? "-" : "", factor,
                     signal_text(p.signal), places);
                if (how_.accumulator_overflow == Overflow::saturate) {
                    line("        a{} = {}(a{}, {});", j, summed, j, bits);
                }
            }
            line("        a{} = {}(a{}, {});", j, summed, j, bits);
            line("        const std::int64_t r{} = {}(a{}, {});", j, shifted, j, program.to_state);
            if (feeds) {
                line("        errors_[i] = a{} - static_cast<std::int64_t>("
                     "static_cast<std::uint64_t>(r{}) << {});",
                     j, j, program.to_state);
            }
            line("        const std::int64_t v{} = {}(r{}, {});", j, name_of(how_.overflow), j,
                 how_.state.bits());
        }
    }

    void floating_sums(const Network& net) {
        const std::string type = sum_type(how_);
        for (std::size_t j = 0; j < net.sums.size(); ++j) {
            bool is_first = true;
            for (const NetworkProduct& p : net.sums[j].products) {
                const std::string signal = fmt::format("{}({})", type, signal_text(p.signal));
                std::string product =
                    p.coefficient >= 0
                        ? fmt::format("{}(c[{}]) * {}", type, p.coefficient, signal)
                        : fmt::format("{}{}", p.doubled ? type + "(2) * " : "", signal);
                if (is_first) {
                    line("        {} a{} = {}{};", type, j, p.subtracted ? "-" : "", product);
                } else {
                    line("        a{} = a{} {} {};", j, j, p.subtracted ? "-" : "+", product);
                }
                is_first = false;
            }
            line("        const {} v{} = static_cast<{}>(a{});", state_type(), j, state_type(), j);
        }
    }

    void taps_step() {
        const Arithmetic& how = chain_.tap_words;
        line("\n    sample convolve(sample x) noexcept {{");
        line("        past_place_ = (past_place_ == 0 ? taps : past_place_) - 1;");
        line("        past_[past_place_] = past_[past_place_ + taps] = x;");
        line("        const sample* past = past_ + past_place_;");
        line("        {} sum = 0;", sum_type(how));
        line("        for (std::size_t k = 0; k < taps; ++k) {{");
        if (is_fixed_) {
            const FixedTaps program = fixed_taps(chain_.taps.size(), how);
            const char* summed = name_of(how.accumulator_overflow);
            line("            sum += {}(taps_[k] * past[k], {});", name_of(how.rounding),
                 program.to_sum);
            if (how.accumulator_overflow == Overflow::saturate) {
                line("            sum = {}(sum, {});", summed, how.accumulator.bits());
            }
            line("        }}");
            line("        sum = {}(sum, {});", summed, how.accumulator.bits());
            line("        return static_cast<sample>({}({}(sum, {}), {}));", name_of(how.overflow),
                 name_of(how.rounding), program.to_data, how.data.bits());
        } else {
            line("            sum = sum + {0}(taps_[k]) * {0}(past[k]);", sum_type(how));
            line("        }}");
            line("        return static_cast<sample>(sum);");
        }
        line("    }}");
    }

    void state() {
        line("");
        if (!chain_.sections.empty()) {
            const std::size_t states = network(chain_.sections.front().real_poles).next.size();
            line("    {} states_[sections][{}] = {{}};", state_type(), states);
            if (chain_.structure == Structure::error_feedback) {
                line("    std::int64_t errors_[sections] = {{}};");
            }
        }
        if (!chain_.taps.empty()) {
            line("    sample past_[2 * taps] = {{}};\n    std::size_t past_place_ = 0;");
        }
        if (chain_.delay_samples > 0) {
            line("    sample delayed_[delay_samples] = {{}};\n    std::size_t delay_place_ = 0;");
        }
    }

    const DeliveredChannel& channel_;
    WordChain chain_;
    const Arithmetic& how_;
    bool is_fixed_;
    std::string out_;
};

} // namespace

Expected<std::string> cpp_class_text(const DeliveredChannel& channel) {
    return CppClass(channel, channel.words ? *channel.words : in_doubles(channel.set)).text();
}

std::string cpp_test_text(const DeliveredChannel& channel, const std::string& file_name) {
    const ExampleRun run = example_run(*channel.words);
    const int places = channel.words->section_words.data.fraction_bits;
    const auto numbers = [&](const std::vector<double>& values) {
        std::string text;
        constexpr std::size_t in_a_line = 10;
        for (std::size_t n = 0; n < values.size(); ++n) {
            text += fmt::format("{}{},", n % in_a_line == 0 ? "\n    " : " ",
                                std::llround(std::ldexp(values[n], places)));
        }
        return text;
    };
    return fmt::format(R"code(// {0}.hpp against the run in words:
//   c++ -std=c++17 {0}_test.cpp -o test && ./test
#include "{0}.hpp"

#include <cstdio>

static const long long sent[] = {{{2}
}};
static const long long wanted[] = {{{3}
}};

int main() {{
    {1} filter;
    int differing = 0;
    constexpr int count = sizeof sent / sizeof *sent;
    for (int n = 0; n < count; ++n) {{
        const auto made = filter.process(static_cast<{1}::sample>(sent[n]));
        if (made != wanted[n] && differing++ == 0) {{
            std::printf("sample %d: %lld instead of %lld\n", n, static_cast<long long>(made), wanted[n]);
        }}
    }}
    if (differing == 0) {{
        std::printf("same as the run in words, %d samples\n", count);
    }} else {{
        std::printf("%d of %d samples differ from the run in words\n", differing, count);
    }}
    return differing == 0 ? 0 : 1;
}}
)code",
                       file_name.substr(file_name.rfind('/') + 1), source_name(channel.set),
                       numbers(run.input), numbers(run.output));
}

} // namespace syntonon
