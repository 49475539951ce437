// A filter as Verilog-2001 modules, written from the structure's network, with a test bench.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficient_writers.h"
#include "core/exchange/example_run.h"
#include "core/exchange/source_writers.h"
#include "core/word/fixed_program.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

std::string memory_text(const std::vector<double>& values, const Word& word) {
    std::string text;
    for (const double value : values) {
        text += hexadecimal(value, word).substr(2) + "\n"; // $readmemh wants no 0x
    }
    return text;
}

class Verilog {
public:
    Verilog(const DeliveredChannel& channel, const WordChain& chain, const std::string& file_name)
        : channel_(channel), chain_(chain), how_(chain.section_words),
          name_(source_name(channel.set)), file_(file_name) {}

    std::string modules() {
        head();
        for (const bool real_poles : {false, true}) {
            if (needs(real_poles)) {
                section_module(real_poles);
            }
        }
        if (!chain_.taps.empty()) {
            fir_module();
        }
        top_module();
        return std::move(out_);
    }

    std::string bench() {
        head();
        const int bits = how_.data.bits();
        line("`timescale 1ns / 1ps\n");
        line("module {}_bench;", name_);
        line("    localparam samples = {};", example_samples);
        line("    reg clock = 0, reset = 1, enable = 0;");
        line("    reg signed [{}:0] x = 0;", bits - 1);
        line("    wire signed [{}:0] y;", bits - 1);
        line("    reg signed [{}:0] sent [0:samples-1];", bits - 1);
        line("    reg signed [{}:0] wanted [0:samples-1];", bits - 1);
        line("    integer n, differ;");
        line("    {} filter (clock, reset, enable, x, y);", name_);
        line("    always #5 clock = ~clock;");
        line("    initial begin");
        line("        $readmemh(\"{}_in.hex\", sent);", file_);
        line("        $readmemh(\"{}_out.hex\", wanted);", file_);
        line("        differ = 0;");
        line("        @(negedge clock);\n        @(negedge clock);");
        line("        reset = 0;\n        enable = 1;");
        line("        for (n = 0; n < samples; n = n + 1) begin");
        line("            x = sent[n];");
        line("            @(negedge clock);");
        line("            if (y !== wanted[n]) begin");
        line("                if (differ < 8) $display(\"sample %0d: %h, not %h\", n, y, "
             "wanted[n]);");
        line("                differ = differ + 1;");
        line("            end");
        line("        end");
        line("        if (differ == 0) $display(\"%0d samples, the same as the run in words\", "
             "samples);");
        line("        else $display(\"%0d of %0d samples differ\", differ, samples);");
        line("        $finish;");
        line("    end\nendmodule");
        return std::move(out_);
    }

private:
    template <class... Values>
    void line(fmt::format_string<Values...> format, Values&&... values) {
        out_ += fmt::format(format, std::forward<Values>(values)...) + "\n";
    }

    const Network& network(bool real_poles) const {
        return network_of(chain_.structure, real_poles);
    }
    bool needs(bool real_poles) const {
        return std::ranges::any_of(chain_.sections, [&](const StructuredSection& section) {
            return section.real_poles == real_poles;
        });
    }
    static const char* kind(bool real_poles) { return real_poles ? "section_real" : "section"; }

    void head() {
        out_ = source_head(channel_.set);
        line("// Signals are words of {}: value = word times 2^-{}.\n", text_of(how_.data),
             how_.data.fraction_bits);
    }

    // Functions of a module whose widest sum has so many bits.
    void helpers(const Arithmetic& how, int width) {
        line("    function signed [{0}:0] down; // value / 2^places, rounded", width - 1);
        line("        input signed [{}:0] value;\n        input integer places;", width - 1);
        line("        reg signed [{}:0] low, rest, half;", width - 1);
        line("        begin");
        line("            if (places <= 0) down = value <<< -places;");
        line("            else begin");
        switch (how.rounding) {
        case Rounding::truncate:
            line("                down = value >>> places;");
            break;
        case Rounding::nearest:
            line("                low = value >>> (places - 1);");
            line("                low = low + 1;");
            line("                down = low >>> 1;");
            break;
        case Rounding::convergent:
            line("                low = value >>> places;");
            line("                rest = value - (low <<< places);");
            line("                half = 1;");
            line("                half = half <<< (places - 1);");
            line("                down = low;");
            line("                if (rest > half || (rest == half && low[0])) down = low + 1;");
            break;
        }
        line("            end\n        end\n    endfunction");
        overflow_helper("held", how.overflow, width);
        overflow_helper("summed", how.accumulator_overflow, width);
    }

    void overflow_helper(const char* name, Overflow overflow, int width) {
        line("    function signed [{}:0] {};", width - 1, name);
        line("        input signed [{}:0] value;\n        input integer bits;", width - 1);
        line("        reg signed [{}:0] half;", width - 1);
        line("        begin");
        line("            half = 1;\n            half = half <<< (bits - 1);");
        if (overflow == Overflow::saturate) {
            line("            {0} = value < -half ? -half : value > half - 1 ? half - 1 : value;",
                 name);
        } else {
            line("            {0} = value <<< ({1} - bits);\n            {0} = {0} >>> ({1} - "
                 "bits);",
                 name, width);
        }
        line("        end\n    endfunction");
    }

    std::string signal_text(const NetworkSignal& signal) const {
        switch (signal.from) {
        case NetworkSignal::From::input:
            return "x";
        case NetworkSignal::From::state:
            return fmt::format("s{}", signal.index);
        case NetworkSignal::From::sum:
            break;
        }
        return fmt::format("v{}", signal.index);
    }

    void section_module(bool real_poles) {
        const Network& net = network(real_poles);
        const FixedProgram program = fixed_program(net, how_);
        const int width = program.widest_sum_bits + 1, number = how_.coefficient.bits();
        const int data = how_.data.bits(), state = how_.state.bits();
        const std::size_t count = net.coefficients.size();
        line("// One section: {}.", named(structures(), chain_.structure).title);
        line("module {}_{} (clock, reset, enable, x, numbers, y);", name_, kind(real_poles));
        line("    input clock, reset, enable;");
        line("    input signed [{}:0] x;", data - 1);
        line("    input [{}:0] numbers; // {}, the first in the highest bits",
             static_cast<int>(count) * number - 1, fmt::join(net.coefficients, ", "));
        line("    output signed [{}:0] y;", data - 1);
        for (std::size_t k = 0; k < count; ++k) {
            const int low = static_cast<int>(count - 1 - k) * number;
            line("    wire signed [{}:0] c{} = numbers[{}:{}];", number - 1, k, low + number - 1,
                 low);
        }
        for (std::size_t k = 0; k < net.next.size(); ++k) {
            const bool is_data =
                carries_input({NetworkSignal::From::state, static_cast<int>(k)}, net);
            line("    reg signed [{}:0] s{};", (is_data ? data : state) - 1, k);
        }
        if (net.feeds_error_back) {
            line("    reg signed [{}:0] error;", width - 1);
        }
        helpers(how_, width);
        sums(net, program, width);
        line("    assign y = held(down(v{}, {}), {});", net.output, program.to_data, data);
        line("    always @(posedge clock) begin");
        line("        if (reset) begin");
        for (std::size_t k = 0; k < net.next.size(); ++k) {
            line("            s{} <= 0;", k);
        }
        line("{}        end else if (enable) begin",
             net.feeds_error_back ? "            error <= 0;\n" : "");
        for (std::size_t k = 0; k < net.next.size(); ++k) {
            line("            s{} <= {};", k, signal_text(net.next[k]));
        }
        if (net.feeds_error_back) {
            line("            error <= a{0} - (r{0} <<< {1});", net.output, program.to_state);
        }
        line("        end\n    end\nendmodule\n");
    }

    void sums(const Network& net, const FixedProgram& program, int width) {
        for (std::size_t j = 0; j < program.sums.size(); ++j) {
            const bool feeds = net.feeds_error_back && static_cast<int>(j) == net.output;
            std::string before = feeds ? "error" : "";
            std::size_t k = 0;
            for (const auto& [p, places] : program.sums[j]) {
                const std::string product = fmt::format(
                    "{}{}", p.coefficient >= 0 ? fmt::format("c{} * ", p.coefficient) : "",
                    signal_text(p.signal));
                line("    wire signed [{}:0] p{}_{} = {}({}){};", width - 1, j, k,
                     p.subtracted ? "-" : "", product, p.doubled ? " <<< 1" : "");
                line("    wire signed [{}:0] t{}_{} = {}down(p{}_{}, {});", width - 1, j, k,
                     before.empty() ? "" : before + " + ", j, k, places);
                before = fmt::format("t{}_{}", j, k);
                if (how_.accumulator_overflow == Overflow::saturate) {
                    line("    wire signed [{}:0] u{}_{} = summed({}, {});", width - 1, j, k, before,
                         how_.accumulator.bits());
                    before = fmt::format("u{}_{}", j, k);
                }
                ++k;
            }
            line("    wire signed [{}:0] a{} = summed({}, {});", width - 1, j, before,
                 how_.accumulator.bits());
            line("    wire signed [{}:0] r{} = down(a{}, {});", width - 1, j, j, program.to_state);
            line("    wire signed [{}:0] v{} = held(r{}, {}); // {}", how_.state.bits() - 1, j, j,
                 how_.state.bits(), net.sums[j].name);
        }
    }

    void fir_module() {
        const Arithmetic& how = chain_.tap_words;
        const FixedTaps program = fixed_taps(chain_.taps.size(), how);
        const int width = program.widest_sum_bits + 1, data = how.data.bits();
        line("// The FIR: the newest sample first.");
        line("module {}_fir (clock, reset, enable, x, y);", name_);
        line("    input clock, reset, enable;");
        line("    input signed [{}:0] x;\n    output reg signed [{}:0] y;", data - 1, data - 1);
        line("    localparam taps = {};", chain_.taps.size());
        line("    reg signed [{}:0] tap [0:taps-1];", how.coefficient.bits() - 1);
        line("    reg signed [{}:0] past [0:taps-1];", data - 1);
        line("    reg signed [{}:0] sum, product;\n    integer k;", width - 1);
        helpers(how, width);
        line("    initial $readmemh(\"{}_taps.hex\", tap);", file_);
        line("    always @(posedge clock) begin");
        line("        if (reset) begin");
        line("            for (k = 0; k < taps; k = k + 1) past[k] = 0;");
        line("            y <= 0;");
        line("        end else if (enable) begin");
        line("            for (k = taps - 1; k > 0; k = k - 1) past[k] = past[k - 1];");
        line("            past[0] = x;\n            sum = 0;");
        line("            for (k = 0; k < taps; k = k + 1) begin");
        line("                product = tap[k] * past[k];");
        line("                sum = sum + down(product, {});", program.to_sum);
        if (how.accumulator_overflow == Overflow::saturate) {
            line("                sum = summed(sum, {});", how.accumulator.bits());
        }
        line("            end");
        line("            sum = summed(sum, {});", how.accumulator.bits());
        line("            y <= held(down(sum, {}), {});", program.to_data, data);
        line("        end\n    end\nendmodule\n");
    }

    void top_module() {
        const int data = how_.data.bits();
        line("// The channel. At a rising edge with `enable` it takes x; y is the output for it "
             "from");
        line("// then on.");
        line("module {} (clock, reset, enable, x, y);", name_);
        line("    input clock, reset, enable;");
        line("    input signed [{}:0] x;", data - 1);
        line("    output signed [{}:0] y;", data - 1);
        line("    wire signed [{}:0] w0;", data - 1);
        delay(data);
        sections(data);
        const std::size_t last = chain_.sections.size();
        if (!chain_.taps.empty()) {
            line("    {}_fir fir (clock, reset, enable, w{}, y);", name_, last);
        } else {
            line("    reg signed [{}:0] out;\n    assign y = out;", data - 1);
            line("    always @(posedge clock) begin");
            line("        if (reset) out <= 0;\n        else if (enable) out <= w{};", last);
            line("    end");
        }
        line("endmodule");
    }

    void delay(int data) {
        if (chain_.delay_samples == 0) {
            line("    assign w0 = x;");
            return;
        }
        line("    localparam delay = {};", chain_.delay_samples);
        line("    reg signed [{}:0] delayed [0:delay-1];\n    integer place, n;", data - 1);
        line("    assign w0 = delayed[place];");
        line("    always @(posedge clock) begin");
        line("        if (reset) begin");
        line("            for (n = 0; n < delay; n = n + 1) delayed[n] <= 0;");
        line("            place <= 0;");
        line("        end else if (enable) begin");
        line("            delayed[place] <= x;");
        line("            place <= place + 1 == delay ? 0 : place + 1;");
        line("        end\n    end");
    }

    void sections(int data) {
        if (chain_.sections.empty()) {
            return;
        }
        const std::size_t count = network(chain_.sections.front().real_poles).coefficients.size();
        const int bits = static_cast<int>(count) * how_.coefficient.bits();
        line("    reg [{}:0] numbers [0:{}];", bits - 1, chain_.sections.size() - 1);
        line("    initial $readmemh(\"{}_sections.hex\", numbers);", file_);
        for (std::size_t i = 0; i < chain_.sections.size(); ++i) {
            line("    wire signed [{}:0] w{};", data - 1, i + 1);
            line("    {}_{} section{} (clock, reset, enable, w{}, numbers[{}], w{});", name_,
                 kind(chain_.sections[i].real_poles), i, i, i, i + 1);
        }
    }

    const DeliveredChannel& channel_;
    const WordChain& chain_;
    const Arithmetic& how_;
    std::string name_, file_, out_;
};

// A row a section: all its numbers' bits one after the other, as hexadecimal digits.
std::string section_memory(const WordChain& chain) {
    const Arithmetic& how = chain.section_words;
    std::string text;
    for (const StructuredSection& section : chain.sections) {
        std::string bits;
        for (const double value : section.values) {
            const std::uint64_t pattern =
                pattern_of(std::ldexp(value, -how.shift), how.coefficient);
            for (int bit = how.coefficient.bits() - 1; bit >= 0; --bit) {
                bits += (pattern >> bit) & 1 ? '1' : '0';
            }
        }
        bits.insert(0, (4 - bits.size() % 4) % 4, '0');
        for (std::size_t i = 0; i < bits.size(); i += 4) {
            const int digit = std::stoi(bits.substr(i, 4), nullptr, 2);
            text += "0123456789abcdef"[digit];
        }
        text += "\n";
    }
    return text;
}

} // namespace

Expected<std::vector<DeliveredText>> verilog_texts(const DeliveredChannel& channel,
                                                   const std::string& file_name) {
    if (!channel.words || !channel.words->section_words.is_fixed()) {
        return refuse("format", "Verilog needs a processor with fixed words",
                      "choose one for the delivery, as the Orrery core");
    }
    const WordChain& chain = *channel.words;
    const Word& data = chain.section_words.data;
    const ExampleRun run = example_run(chain);
    Verilog verilog(channel, chain, file_name);
    std::vector<DeliveredText> texts;
    texts.push_back({".v", verilog.modules()});
    texts.push_back({"_bench.v", verilog.bench()});
    if (!chain.sections.empty()) {
        texts.push_back({"_sections.hex", section_memory(chain)});
    }
    if (!chain.taps.empty()) {
        std::vector<double> held = chain.taps;
        for (double& tap : held) {
            tap = std::ldexp(tap, -chain.tap_words.shift);
        }
        texts.push_back({"_taps.hex", memory_text(held, chain.tap_words.coefficient)});
    }
    texts.push_back({"_in.hex", memory_text(run.input, data)});
    texts.push_back({"_out.hex", memory_text(run.output, data)});
    return texts;
}

} // namespace syntonon
