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

// A sum that is written term by term.
class EquationLine {
public:
    EquationLine(std::string_view result, int digits)
        : digits_(digits), text_(delayed(result, 0) + " =") {}

    void add(double factor, const std::string& term) {
        if (factor == 0) {
            return;
        }
        if (factor < 0) {
            text_ += fmt::format(" {}", minus);
        } else if (!is_empty_) {
            text_ += " +";
        }
        const double size = std::abs(factor);
        text_ +=
            size == 1 ? " " + term : fmt::format(" {} {}", text_with_digits(size, digits_), term);
        is_empty_ = false;
    }
    void more(const std::string& words) { text_ += " " + words; }
    std::string text() const { return is_empty_ ? text_ + " 0" : text_; }

private:
    int digits_;
    std::string text_;
    bool is_empty_ = true;
};

class Writer {
public:
    Writer(int digits, bool is_analog) : digits_(digits), is_analog_(is_analog) {}

    void write(const Filter& filter, const std::string& in, const std::string& out) {
        std::visit([&](const auto& form) { add(form, in, out); },
                   static_cast<const AnyForm::variant&>(filter.form()));
    }
    std::vector<std::string> take() { return std::move(lines_); }

private:
    std::string fresh() {
        ++count_;
        return is_analog_ ? fmt::format("U{}(s)", count_) : fmt::format("u{}", count_);
    }

    void add(const Cascade& cascade, std::string in, const std::string& out) {
        if (cascade.sections.empty()) {
            add(Gain{1}, in, out);
        }
        for (std::size_t i = 0; i < cascade.sections.size(); ++i) {
            const Biquad& s = cascade.sections[i];
            const std::string result = i + 1 == cascade.sections.size() ? out : fresh();
            EquationLine sum(result, digits_);
            sum.add(s.b0, delayed(in, 0));
            sum.add(s.b1, delayed(in, 1));
            sum.add(s.b2, delayed(in, 2));
            sum.add(-s.a1, delayed(result, 1));
            sum.add(-s.a2, delayed(result, 2));
            lines_.push_back(sum.text());
            in = result;
        }
    }

    void add(const AnalogCascade& cascade, std::string in, const std::string& out) {
        for (std::size_t i = 0; i < cascade.sections.size(); ++i) {
            const AnalogSection& s = cascade.sections[i];
            const std::string result = i + 1 == cascade.sections.size() ? out : fresh();
            lines_.push_back(fmt::format("{} = ({}) / ({}) {}", result,
                                         polynomial_text(s.b2, s.b1, s.b0, digits_),
                                         polynomial_text(s.a2, s.a1, s.a0, digits_), in));
            in = result;
        }
    }

    void add(const Taps& taps, const std::string& in, const std::string& out) {
        const auto values = taps.values();
        EquationLine sum(out, digits_);
        for (std::size_t k = 0; k < std::min(values.size(), most_taps_written); ++k) {
            sum.add(values[k], delayed(in, k));
        }
        if (values.size() > most_taps_written) {
            sum.more(
                fmt::format("+ … to {}, {} taps", delayed(in, values.size() - 1), values.size()));
        }
        lines_.push_back(sum.text());
    }

    void add(const Delay& delay, const std::string& in, const std::string& out) {
        EquationLine sum(out, digits_);
        sum.add(1, delayed(in, delay.samples));
        lines_.push_back(sum.text());
    }

    void add(const Gain& gain, const std::string& in, const std::string& out) {
        EquationLine sum(out, digits_);
        sum.add(gain.factor, delayed(in, 0));
        lines_.push_back(sum.text());
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
        EquationLine sum(out, digits_);
        for (const ParallelSum::Branch& branch : split.branches) {
            const std::string result = fresh();
            write(branch.filter, in, result);
            sum.add(branch.factor, delayed(result, 0));
        }
        lines_.push_back(sum.text());
    }

    void add(const Repeated& repeated, std::string in, const std::string& out) {
        for (std::size_t i = 0; i < repeated.count; ++i) {
            const std::string result = i + 1 == repeated.count ? out : fresh();
            write(repeated.filter, in, result);
            in = result;
        }
    }

    // The return is written first: without delay the two lines are solved together.
    void add(const Loop& loop, const std::string& in, const std::string& out) {
        const std::string returned = fresh();
        write(loop.feedback, out, returned);
        const std::string entering = fresh();
        EquationLine sum(entering, digits_);
        sum.add(1, delayed(in, 0));
        sum.add(loop.factor, delayed(returned, 0));
        lines_.push_back(sum.text());
        write(loop.forward, entering, out);
    }

    int digits_;
    bool is_analog_;
    int count_ = 0;
    std::vector<std::string> lines_;
};

} // namespace

std::vector<std::string> difference_equations(const Filter& filter, int digits) {
    Writer writer(digits, filter.is_analog());
    const bool is_analog = filter.is_analog();
    writer.write(filter, is_analog ? "X(s)" : "x", is_analog ? "Y(s)" : "y");
    return writer.take();
}

} // namespace syntonon
