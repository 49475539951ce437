// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/import_text.h"

#include "core/base/file.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <fmt/format.h>
#include <numeric>
#include <optional>

namespace syntonon {
namespace {

constexpr std::size_t most_columns = 3;
constexpr std::size_t most_bytes = 256'000'000;

// How the columns of a file part, decided once from its first data row.
struct Layout {
    char separator = ' '; // ',', ';', '\t' or ' ' for any run of blanks
    bool decimal_comma = false;
    std::size_t columns = 0;
};

using Cells = std::array<std::string_view, most_columns + 1>;

std::size_t split(std::string_view line, char separator, Cells& cells) {
    std::size_t count = 0;
    const std::string_view marks =
        separator == ' ' ? std::string_view(" \t") : std::string_view(&separator, 1);
    while (count < cells.size()) {
        if (separator == ' ') {
            line = trimmed(line);
        }
        const auto end = std::min(line.find_first_of(marks), line.size());
        cells[count++] = trimmed(line.substr(0, end));
        if (end == line.size()) {
            break;
        }
        line.remove_prefix(end + 1);
        if (trimmed(line).empty()) {
            break; // A separator at the end of the row.
        }
    }
    return count;
}

std::optional<double> cell_number(std::string_view cell, bool decimal_comma) {
    if (!decimal_comma || cell.find(',') == std::string_view::npos) {
        return number_from_text(cell);
    }
    std::array<char, 64> copy;
    if (cell.size() > copy.size()) {
        return std::nullopt;
    }
    std::ranges::transform(cell, copy.begin(), [](char c) { return c == ',' ? '.' : c; });
    return number_from_text({copy.data(), cell.size()});
}

bool all_numbers(const Cells& cells, std::size_t count, bool decimal_comma) {
    return std::all_of(
        cells.begin(), cells.begin() + static_cast<std::ptrdiff_t>(count),
        [&](std::string_view cell) { return cell_number(cell, decimal_comma).has_value(); });
}

// The layout under which `line` is a row of 2 or 3 numbers, or nothing.
std::optional<Layout> layout_of(std::string_view line) {
    // Stronger separators first: a comma beside one of them must be a decimal comma.
    const bool has_strong = line.find_first_of(";\t") != std::string_view::npos;
    const bool has_point = line.find('.') != std::string_view::npos;
    const std::array<Layout, 6> candidates = {Layout{';', false},  Layout{';', true},
                                              Layout{'\t', false}, Layout{'\t', true},
                                              Layout{',', false},  Layout{' ', false}};
    Cells cells;
    const auto fits = [&](Layout candidate) -> std::optional<Layout> {
        candidate.columns = split(line, candidate.separator, cells);
        const bool right = candidate.columns >= 2 && candidate.columns <= most_columns
                           && all_numbers(cells, candidate.columns, candidate.decimal_comma);
        return right ? std::optional(candidate) : std::nullopt;
    };
    // Blanks with decimal commas ("20,5 71,2"): before commas as separators, which would see 3
    // cells of which one holds a blank and so is no number.
    for (const Layout& candidate : candidates) {
        if (has_strong && candidate.separator == ',') {
            continue;
        }
        if (const auto found = fits(candidate)) {
            return found;
        }
    }
    return has_point ? std::nullopt : fits(Layout{' ', true});
}

bool is_comment(std::string_view line) {
    return line.empty() || std::string_view("#%*!\";").find(line.front()) != std::string_view::npos
           || line.starts_with("//");
}

bool starts_like_number(std::string_view line) {
    const std::size_t first = line.find_first_not_of("+-.");
    return first != std::string_view::npos && first <= 2
           && std::isdigit(static_cast<unsigned char>(line[first])) != 0;
}

std::string at_line(std::size_t line) {
    return fmt::format("line {}", line);
}

std::string shown(std::string_view cell) {
    return std::string(cell.substr(0, 40)) + (cell.size() > 40 ? "…" : "");
}

class Importer {
public:
    explicit Importer(const ImportOptions& options) : options_(options) {}

    Expected<ImportedCurve> read(std::string_view text) {
        if (text.starts_with("\xEF\xBB\xBF")) {
            text.remove_prefix(3);
        }
        // A text response has no zero bytes; UTF-16 and binary files do.
        if (const auto zero = text.substr(0, 65536).find('\0'); zero != std::string_view::npos) {
            return refuse("", "this is not plain text",
                          "export the response as text in ASCII or UTF-8");
        }
        while (!text.empty()) {
            const auto end = std::min(text.find_first_of("\r\n"), text.size());
            ++line_;
            if (auto ok = take_line(trimmed(text.substr(0, end))); !ok) {
                return tl::unexpected(ok.error());
            }
            const bool pair = end + 1 < text.size() && text[end] == '\r' && text[end + 1] == '\n';
            text.remove_prefix(std::min(end + (pair ? 2 : 1), text.size()));
        }
        return finished();
    }

private:
    Expected<void> take_line(std::string_view line) {
        if (is_comment(line) || (!layout_ && !starts_like_number(line))) {
            note_unit(line);
            return {};
        }
        if (!layout_) {
            layout_ = layout_of(line);
            if (!layout_) {
                return refuse(at_line(line_),
                              fmt::format("“{}” is not a row of 2 or 3 numbers", shown(line)),
                              "give frequency, dB and, if known, degrees");
            }
        }
        return take_row(line);
    }

    void note_unit(std::string_view line) {
        // Only before the data: a remark in the middle does not change what was read.
        if (!layout_ && lower_case(line).find("khz") != std::string::npos) {
            header_says_kilo_ = true;
        }
    }

    Expected<void> take_row(std::string_view line) {
        Cells cells;
        const std::size_t count = split(line, layout_->separator, cells);
        if (count != layout_->columns) {
            return refuse(at_line(line_),
                          fmt::format("{} columns where the first row has {}",
                                      count > most_columns ? "more than 3" : std::to_string(count),
                                      layout_->columns),
                          "give every row the same columns");
        }
        std::array<double, most_columns> values{};
        for (std::size_t i = 0; i < count; ++i) {
            const auto value = cell_number(cells[i], layout_->decimal_comma);
            if (!value) {
                return refuse(at_line(line_), fmt::format("“{}” is not a number", shown(cells[i])),
                              "correct it or remove the line");
            }
            if (!std::isfinite(*value)) {
                return refuse(at_line(line_),
                              fmt::format("“{}” is not a finite number", shown(cells[i])),
                              "remove the line");
            }
            values[i] = *value;
        }
        return keep(values);
    }

    Expected<void> keep(const std::array<double, most_columns>& values) {
        ++rows_;
        if (values[0] < 0) {
            return refuse(at_line(line_), fmt::format("{} is a negative frequency", values[0]),
                          "remove the line");
        }
        if (std::abs(values[1]) > greatest_curve_level_db) {
            return refuse(at_line(line_), fmt::format("{} dB is no level", values[1]),
                          "the second column must be a level in dB");
        }
        if (values[0] == 0) {
            ++zero_rows_;
            return {};
        }
        if (!frequency_.empty() && values[0] <= frequency_.back() && out_of_order_line_ == 0) {
            out_of_order_line_ = line_;
        }
        frequency_.push_back(values[0]);
        magnitude_.push_back(values[1]);
        if (layout_->columns == 3) {
            phase_.push_back(values[2]);
        }
        return {};
    }

    Expected<ImportedCurve> finished() {
        if (frequency_.empty()) {
            return refuse("", "no rows of numbers were found",
                          "give lines with a frequency and a level in dB");
        }
        ImportedCurve imported;
        imported.rows = rows_;
        imported.decimal_comma = layout_->decimal_comma;
        imported.kilohertz =
            options_.frequency_unit == FrequencyUnit::khz
            || (options_.frequency_unit == FrequencyUnit::automatic && header_says_kilo_);
        if (zero_rows_ > 0) {
            imported.notes.push_back(
                fmt::format("{} at 0 Hz left out: a logarithmic axis has no zero.",
                            zero_rows_ == 1 ? "1 row" : fmt::format("{} rows", zero_rows_)));
        }
        if (out_of_order_line_ != 0) {
            put_in_order(imported);
        }
        if (imported.kilohertz) {
            for (double& f : frequency_) {
                f *= 1000;
            }
        }
        imported.curve.frequency_hz = std::move(frequency_);
        imported.curve.magnitude_db = std::move(magnitude_);
        imported.curve.phase_deg = std::move(phase_);
        return imported;
    }

    void put_in_order(ImportedCurve& imported) {
        std::vector<std::size_t> order(frequency_.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        std::ranges::stable_sort(order, {}, [&](std::size_t i) { return frequency_[i]; });
        std::vector<double> frequency, magnitude, phase;
        std::size_t repeated = 0;
        for (std::size_t start = 0; start < order.size();) {
            std::size_t end = start;
            double level = 0;
            std::complex<double> direction = 0;
            while (end < order.size() && frequency_[order[end]] == frequency_[order[start]]) {
                level += magnitude_[order[end]];
                direction +=
                    phase_.empty() ? 1.0 : std::polar(1.0, rad_from_deg(phase_[order[end]]));
                ++end;
            }
            const auto count = static_cast<double>(end - start);
            repeated += end - start - 1;
            frequency.push_back(frequency_[order[start]]);
            magnitude.push_back(level / count);
            if (!phase_.empty()) {
                // One row keeps its phase to the digit; several give the direction of their mean.
                phase.push_back(count == 1 ? phase_[order[start]]
                                           : deg_from_rad(std::arg(direction)));
            }
            start = end;
        }
        if (repeated > 0) {
            imported.notes.push_back(
                fmt::format("{} repeated a frequency and {} averaged (first at line {}).",
                            repeated == 1 ? "1 row" : fmt::format("{} rows", repeated),
                            repeated == 1 ? "was" : "were", out_of_order_line_));
        }
        if (!std::ranges::is_sorted(frequency_)) {
            imported.notes.push_back(fmt::format(
                "The rows were not in order of frequency and were sorted (first at line {}).",
                out_of_order_line_));
        }
        frequency_ = std::move(frequency);
        magnitude_ = std::move(magnitude);
        phase_ = std::move(phase);
    }

    ImportOptions options_;
    std::optional<Layout> layout_;
    bool header_says_kilo_ = false;
    std::size_t line_ = 0, rows_ = 0, zero_rows_ = 0, out_of_order_line_ = 0;
    std::vector<double> frequency_, magnitude_, phase_;
};

} // namespace

Expected<ImportedCurve> import_text(std::string_view text, const ImportOptions& options) {
    return Importer(options).read(text);
}

Expected<ImportedCurve> import_text_file(const std::filesystem::path& path,
                                         const ImportOptions& options) {
    const auto bytes = read_file(path, most_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto imported = import_text(*bytes, options);
    if (!imported) {
        return tl::unexpected(in_file(path.string(), imported.error()));
    }
    imported->curve.name = path.stem().string();
    return imported;
}

} // namespace syntonon
