// Reading JSON objects field by field, with the path of whatever is wrong.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json_view.h"
#include "core/base/problem.h"
#include "core/base/unknown_keys.h"

#include <complex>
#include <cstddef>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// What came up while reading a document: the first problem (later reads then return defaults, so
// that reading code needs no error handling of its own) and warnings.
struct ReadLog {
    std::optional<Problem> problem;
    std::vector<std::string> warnings;
    std::size_t more_warnings = 0; // that are only counted

    void warn(const Problem& p) {
        constexpr std::size_t readable = 1000;
        if (warnings.size() < readable) {
            warnings.push_back(to_text(p));
        } else {
            ++more_warnings;
        }
    }
    void fail(Problem p) {
        if (!problem) {
            problem = std::move(p);
        }
    }
};

// One object. Remembers which keys were asked for; the rest are unknown.
class ObjectReader {
public:
    // The text that `json` looks into must outlive the reader.
    ObjectReader(const JsonView& json, std::string path, ReadLog& log);

    bool has(std::string_view key) const;
    bool is_list(std::string_view key) const;
    std::string text(std::string_view key);
    std::string text_or(std::string_view key, std::string otherwise);
    double number(std::string_view key);
    double number_or(std::string_view key, double otherwise);
    std::optional<double> optional_number(std::string_view key);
    int integer_or(std::string_view key, int otherwise);
    bool boolean_or(std::string_view key, bool otherwise);
    // An array of numbers, or {"f64": "<base64 of little-endian doubles>"}, or {"f32": ...} of
    // single precision. Empty when absent.
    std::vector<double> numbers(std::string_view key);
    // [[a, b], …], read as a + jb; the way out says what to write.
    std::vector<std::complex<double>>
    complex_numbers(std::string_view key,
                    const char* way_out = "write [real part, imaginary part]");
    std::vector<std::string> texts(std::string_view key);
    // A nested object that must be there.
    ObjectReader object(std::string_view key);
    // Calls `take(ObjectReader)` for each object of an array; an absent array is empty.
    template <class Take>
    void each(std::string_view key, Take take) {
        std::size_t i = 0;
        if (const JsonView* list = array(key)) {
            list->each_element([&](const JsonView& element) {
                take(ObjectReader(element, element_path(key, i++), log_));
                return true;
            });
        }
    }

    // The keys nobody asked for; a warning names each.
    UnknownKeys unknown();

    void fail(std::string_view key, std::string reason, std::string way_out);
    std::string path_of(std::string_view key) const;
    ReadLog& log() { return log_; }

private:
    const JsonView* value(std::string_view key);
    const JsonView* required(std::string_view key);
    const JsonView* array(std::string_view key);
    std::string element_path(std::string_view key, std::size_t i) const;

    const JsonView::Member* find(std::string_view key) const;

    std::vector<JsonView::Member> members_;
    std::vector<bool> asked_; // of each
    std::string path_;
    ReadLog& log_;
};

// "sample_rate_hz", which must be there; fails unless it is one.
double read_sample_rate(ObjectReader& object);

// Fails unless "format" is this one and "version" is from 1 to the newest that is known.
void check_head(ObjectReader& object, std::string_view format, int newest);

} // namespace syntonon
