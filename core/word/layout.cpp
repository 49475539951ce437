// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/layout.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

template <class T>
using Key = std::pair<T, std::string_view>;

constexpr auto formats = std::to_array<Key<FileFormat>>({{FileFormat::csv, "csv"},
                                                         {FileFormat::json, "json"},
                                                         {FileFormat::c_header, "c_header"},
                                                         {FileFormat::text, "text"},
                                                         {FileFormat::cpp_class, "cpp_class"},
                                                         {FileFormat::instrument, "instrument"},
                                                         {FileFormat::lv2, "lv2"},
                                                         {FileFormat::hex_words, "hex_words"},
                                                         {FileFormat::verilog, "verilog"},
                                                         {FileFormat::wav, "wav"},
                                                         {FileFormat::form, "form"}});
constexpr auto number_names =
    std::to_array<Key<NumberType>>({{NumberType::real64, "double"}, {NumberType::real32, "float"}});
constexpr auto signs = std::to_array<Key<FeedbackSign>>(
    {{FeedbackSign::subtracted, "subtracted"}, {FeedbackSign::added, "added"}});
constexpr auto normalisations =
    std::to_array<Key<Normalisation>>({{Normalisation::a0_one, "a0_one"},
                                       {Normalisation::b0_one, "b0_one"},
                                       {Normalisation::a0_half, "a0_half"}});
constexpr auto terms = std::to_array<Key<Term>>({{Term::b0, "b0"},
                                                 {Term::b1, "b1"},
                                                 {Term::b2, "b2"},
                                                 {Term::a0, "a0"},
                                                 {Term::a1, "a1"},
                                                 {Term::a2, "a2"},
                                                 {Term::gain, "gain"}});

template <class T, std::size_t n>
std::string_view key_in(const std::array<Key<T>, n>& keys, T value) {
    return std::ranges::find(keys, value, &Key<T>::first)->second;
}

template <class T, std::size_t n>
std::optional<T> value_in(const std::array<Key<T>, n>& keys, std::string_view key) {
    const auto found = std::ranges::find(keys, key, &Key<T>::second);
    return found == keys.end() ? std::nullopt : std::optional(found->first);
}

} // namespace

Expected<void> check(const SectionConvention& convention) {
    const auto count = [&](Term term) { return std::ranges::count(convention.order, term); };
    const bool scaled_to_b0 = convention.normalisation == Normalisation::b0_one;
    for (const auto& [term, key] : terms) {
        if (count(term) > 1) {
            return refuse("order", fmt::format("{} stands twice", key), "name each term once");
        }
    }
    for (const Term term : {Term::b0, Term::b1, Term::b2, Term::a1, Term::a2}) {
        const bool may_lack = term == Term::b0 && scaled_to_b0;
        if (count(term) == 0 && !may_lack) {
            return refuse("order", fmt::format("{} is missing", key_of(term)),
                          "name b0, b1, b2, a1 and a2");
        }
    }
    if ((count(Term::gain) == 1) != scaled_to_b0) {
        return refuse("order", scaled_to_b0 ? "gain is missing" : "gain has no meaning here",
                      scaled_to_b0 ? "with b0 = 1 the section's gain must be written: add gain"
                                   : "choose the normalisation b0_one or leave gain out");
    }
    return {};
}

Expected<void> check(const CoefficientLayout& layout) {
    if (auto ok = check(static_cast<const SectionConvention&>(layout)); !ok) {
        return ok;
    }
    if (layout.digits < 1 || layout.digits > 17) {
        return refuse("digits", fmt::format("{} is not between 1 and 17", layout.digits),
                      "17 keep a double, 9 a float");
    }
    return {};
}

std::string_view key_of(FileFormat format) {
    return key_in(formats, format);
}
std::string_view key_of(NumberType number) {
    return key_in(number_names, number);
}
std::string_view key_of(FeedbackSign sign) {
    return key_in(signs, sign);
}
std::string_view key_of(Normalisation normalisation) {
    return key_in(normalisations, normalisation);
}
std::string_view key_of(Term term) {
    return key_in(terms, term);
}

std::string_view extension_of(FileFormat format) {
    switch (format) {
    case FileFormat::csv:
        return ".csv";
    case FileFormat::json:
        return ".json";
    case FileFormat::c_header:
        return ".h";
    case FileFormat::text:
        return ".txt";
    case FileFormat::cpp_class:
        return ".hpp";
    case FileFormat::hex_words:
        return ".hex";
    case FileFormat::verilog:
        return ".v";
    case FileFormat::wav:
        return ".wav";
    case FileFormat::instrument:
    case FileFormat::lv2:
    case FileFormat::form:
        return ""; // of their own
    }
    return "";
}

std::optional<FileFormat> file_format_from_key(std::string_view key) {
    return value_in(formats, key);
}
std::optional<NumberType> number_type_from_key(std::string_view key) {
    return value_in(number_names, key);
}
std::optional<FeedbackSign> feedback_sign_from_key(std::string_view key) {
    return value_in(signs, key);
}
std::optional<Normalisation> normalisation_from_key(std::string_view key) {
    return value_in(normalisations, key);
}

std::string order_text(const std::vector<Term>& order) {
    std::string text;
    for (const Term term : order) {
        text += (text.empty() ? "" : " ") + std::string(key_of(term));
    }
    return text;
}

Expected<std::vector<Term>> order_from_text(std::string_view text) {
    std::vector<Term> order;
    for (text = trimmed(text); !text.empty(); text = trimmed(text)) {
        const auto end = std::min(text.find_first_of(" ,\t"), text.size());
        const std::string_view word = text.substr(0, end);
        text.remove_prefix(end < text.size() ? end + 1 : end);
        if (word.empty()) {
            continue;
        }
        const auto term = value_in(terms, word);
        if (!term) {
            return refuse("order", fmt::format("“{}” is not a term", word),
                          "use b0 b1 b2 a0 a1 a2 gain");
        }
        order.push_back(*term);
    }
    return order;
}

} // namespace syntonon
