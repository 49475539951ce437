// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/difference_equation.h"

#include "core/base/number_text.h"
#include "core/filter/form.h"

#include <cmath>
#include <cstddef>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

constexpr std::size_t most_taps_written = 16;
constexpr std::string_view minus = "−"; // U+2212

std::string polynomial_text(double c2, double c1, double c0, int digits) {
    std::string text;
    const auto add = [&](double c, const char* power) {
        if (c != 0) {
            text += text.empty() ? (c < 0 ? std::string(minus) : "")
                                 : fmt::format(" {} ", c < 0 ? minus : "+");
            const double size = std::abs(c);
            const bool is_bare = size == 1 && *power != 0;
            text +=
                is_bare ? power : text_with_digits(size, digits) + (*power != 0 ? " " : "") + power;
        }
    };
    add(c2, "s²");
    add(c1, "s");
    add(c0, "");
    return text.empty() ? "0" : text;
}

// A signal at a time, or an analog one's transform.
std::string delayed(std::string_view signal, std::size_t samples) {
    return signal.ends_with(')') ? std::string(signal)
           : samples == 0        ? fmt::format("{}[n]", signal)
                                 : fmt::format("{}[n{}{}]", signal, minus, samples);
}

// One equation; of analog sections its text, since it has no samples.
struct Line {
    SampleEquation equation;
    std::string text = {};
    std::size_t taps = 0; // of a row of taps
};

// Of long rows of taps the first few terms.
std::string text_of(const Line& line, int digits) {
    if (!line.text.empty()) {
        return line.text;
    }
    std::string text = delayed(line.equation.result, 0) + " =";
    bool is_empty = true;
    for (const EquationTerm& term : line.equation.terms) {
        if (line.taps > 0 && term.delay >= most_taps_written) {
            break;
        }
        text += term.factor < 0 ? fmt::format(" {}", minus) : is_empty ? "" : " +";
        const double size = std::abs(term.factor);
        const std::string signal = delayed(term.signal, term.delay);
        text += size == 1 ? " " + signal
                          : fmt::format(" {} {}", text_with_digits(size, digits), signal);
        is_empty = false;
    }
    text += is_empty ? " 0" : "";
    if (line.taps > most_taps_written) {
        const std::string& signal =
            line.equation.terms.empty() ? line.equation.result : line.equation.terms[0].signal;
        text += fmt::format(" + … to {}, {} taps", delayed(signal, line.taps - 1), line.taps);
    }
    return text;
}

class Writer {
public:
    Writer(int digits, bool is_analog) : digits_(digits), is_analog_(is_analog) {}

    void write(const Filter& filter, const std::string& in, const std::string& out) {
        std::visit([&](const auto& form) { add(form, in, out); },
                   static_cast<const AnyForm::variant&>(filter.form()));
    }
    std::vector<Line> take() { return std::move(lines_); }

private:
    std::string fresh() {
        ++count_;
        return is_analog_ ? fmt::format("U{}(s)", count_) : fmt::format("u{}", count_);
    }

    void state(const std::string& result, std::vector<EquationTerm> terms, std::size_t taps = 0) {
        std::erase_if(terms, [](const EquationTerm& term) { return term.factor == 0; });
        lines_.push_back({{result, std::move(terms)}, {}, taps});
    }

    void add(const Cascade& cascade, std::string in, const std::string& out) {
        if (cascade.sections.empty()) {
            add(Gain{1}, in, out);
        }
        for (std::size_t i = 0; i < cascade.sections.size(); ++i) {
            const Biquad& s = cascade.sections[i];
            const std::string result = i + 1 == cascade.sections.size() ? out : fresh();
            state(result, {{s.b0, in, 0},
                           {s.b1, in, 1},
                           {s.b2, in, 2},
                           {-s.a1, result, 1},
                           {-s.a2, result, 2}});
            in = result;
        }
    }

    void add(const AnalogCascade& cascade, std::string in, const std::string& out) {
        for (std::size_t i = 0; i < cascade.sections.size(); ++i) {
            const AnalogSection& s = cascade.sections[i];
            const std::string result = i + 1 == cascade.sections.size() ? out : fresh();
            lines_.push_back({{},
                              fmt::format("{} = ({}) / ({}) {}", result,
                                          polynomial_text(s.b2, s.b1, s.b0, digits_),
                                          polynomial_text(s.a2, s.a1, s.a0, digits_), in),
                              0});
            in = result;
        }
    }

    void add(const Taps& taps, const std::string& in, const std::string& out) {
        std::vector<EquationTerm> terms;
        for (const double tap : taps.values()) {
            terms.push_back({tap, in, terms.size()});
        }
        state(out, std::move(terms), taps.values().size());
    }

    void add(const Delay& delay, const std::string& in, const std::string& out) {
        state(out, {{1, in, delay.samples}});
    }

    void add(const Gain& gain, const std::string& in, const std::string& out) {
        state(out, {{gain.factor, in, 0}});
    }

    void add(const Series& chain, std::string in, const std::string& out) {
        if (chain.parts.empty()) {
            add(Gain{1}, in, out);
        }
        for (std::size_t i = 0; i < chain.parts.size(); ++i) {
            const std::string result = i + 1 == chain.parts.size() ? out : fresh();
            write(chain.parts[i], in, result);
            in = result;
        }
    }

    void add(const ParallelSum& split, const std::string& in, const std::string& out) {
        std::vector<EquationTerm> sum;
        for (const ParallelSum::Branch& branch : split.branches) {
            const std::string result = fresh();
            write(branch.filter, in, result);
            sum.push_back({branch.factor, result, 0});
        }
        state(out, std::move(sum));
    }

    void add(const Computed& computed, const std::string& in, const std::string& out) {
        write(computed.linear, in, out);
    }
    // As one recursion of all its states.
    void add(const Oversampled& of, const std::string& in, const std::string& out) {
        const auto rational = rational_of(of);
        if (!rational) {
            return;
        }
        const Coefficients all = coefficients_of(*rational);
        std::vector<EquationTerm> terms;
        for (std::size_t k = 0; k < all.numerator.size(); ++k) {
            terms.push_back({all.numerator[k], in, k});
        }
        for (std::size_t k = 1; k < all.denominator.size(); ++k) {
            terms.push_back({-all.denominator[k], out, k});
        }
        state(out, std::move(terms));
    }
    void add(const Repeated& repeated, std::string in, const std::string& out) {
        for (std::size_t i = 0; i < repeated.count; ++i) {
            const std::string result = i + 1 == repeated.count ? out : fresh();
            write(repeated.filter, in, result);
            in = result;
        }
    }

    void add(const Loop& loop, const std::string& in, const std::string& out) {
        const std::string returned = fresh();
        write(loop.feedback, out, returned);
        const std::string entering = fresh();
        state(entering, {{1, in, 0}, {loop.factor, returned, 0}});
        write(loop.forward, entering, out);
    }

    int digits_;
    bool is_analog_;
    int count_ = 0;
    std::vector<Line> lines_;
};

} // namespace

std::vector<SampleEquation> equation_system(const Filter& filter) {
    Writer writer(0, false);
    writer.write(filter, "x", "y");
    std::vector<SampleEquation> system;
    for (Line& line : writer.take()) {
        system.push_back(std::move(line.equation));
    }
    return system;
}

std::vector<std::string> difference_equations(const Filter& filter, int digits) {
    const bool is_analog = filter.is_analog();
    Writer writer(digits, is_analog);
    writer.write(filter, is_analog ? "X(s)" : "x", is_analog ? "Y(s)" : "y");
    std::vector<std::string> texts;
    for (const Line& line : writer.take()) {
        texts.push_back(text_of(line, digits));
    }
    return texts;
}

} // namespace syntonon
