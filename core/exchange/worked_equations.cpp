// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/worked_equations.h"

#include "core/base/number_text.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::string_view minus = "−"; // U+2212

std::string shown(double value, int digits) {
    const std::string text = text_with_digits(std::abs(value), digits);
    return value < 0 ? std::string(minus) + text : text;
}

std::string product_text(double factor, double value, int digits, bool is_first) {
    const bool negative = (factor < 0) != (value < 0);
    std::string text = is_first ? (negative ? std::string(minus) : "")
                                : fmt::format(" {} ", negative ? minus : "+");
    const double size = std::abs(factor);
    text += size == 1 ? text_with_digits(std::abs(value), digits)
                      : fmt::format("{} · {}", text_with_digits(size, digits),
                                    text_with_digits(std::abs(value), digits));
    return text;
}

std::string products_of(const WorkedEquations& worked, const SampleEquation& equation,
                        std::size_t n, int digits) {
    constexpr std::size_t most_products = 12;
    std::string text = fmt::format("{}[{}] =", equation.result, n);
    std::size_t written = 0, left_out = 0;
    for (const EquationTerm& term : equation.terms) {
        if (term.delay > n) {
            continue;
        }
        if (written == most_products) {
            ++left_out;
            continue;
        }
        const double value = worked.values.at(term.signal)[n - term.delay];
        text += (written == 0 ? " " : "") + product_text(term.factor, value, digits, written == 0);
        ++written;
    }
    if (left_out > 0) {
        text += fmt::format(" + … {} more", left_out);
    }
    const std::string result = shown(worked.values.at(equation.result)[n], digits);
    // A product that is the value itself is not said twice.
    return written == 0 || text.ends_with("= " + result) ? (written == 0 ? text + " 0" : text)
                                                         : text + " = " + result;
}

} // namespace

Expected<WorkedEquations> work_through(std::vector<SampleEquation> system,
                                       std::span<const double> in) {
    WorkedEquations worked{std::move(system), {}};
    struct Product {
        double factor;
        const std::vector<double>* signal;
        std::size_t delay;
    };
    worked.values["x"].assign(in.begin(), in.end());
    for (const SampleEquation& equation : worked.system) {
        worked.values[equation.result].reserve(in.size());
    }
    std::vector<std::vector<Product>> lines;
    for (const SampleEquation& equation : worked.system) {
        lines.emplace_back();
        for (const EquationTerm& term : equation.terms) {
            lines.back().push_back({term.factor, &worked.values.at(term.signal), term.delay});
        }
    }
    for (std::size_t n = 0; n < in.size(); ++n) {
        for (std::size_t i = 0; i < lines.size(); ++i) {
            double sum = 0;
            for (const Product& term : lines[i]) {
                if (term.delay > n) {
                    continue;
                }
                if (n - term.delay >= term.signal->size()) {
                    return refuse(worked.system[i].result,
                                  "needs a value that comes only later: the loop has no delay",
                                  "its equations are solved together, not worked through");
                }
                sum += term.factor * (*term.signal)[n - term.delay];
            }
            worked.values.at(worked.system[i].result).push_back(sum);
        }
    }
    return worked;
}

std::vector<std::string> products_at(const WorkedEquations& worked, std::size_t n, int digits) {
    std::vector<std::string> lines;
    for (const SampleEquation& equation : worked.system) {
        if (n < worked.values.at(equation.result).size()) {
            lines.push_back(products_of(worked, equation, n, digits));
        }
    }
    return lines;
}

} // namespace syntonon
