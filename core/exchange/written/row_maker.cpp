// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written/row_maker.h"

#include "core/base/number_text.h"
#include "core/exchange/written/number_names.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

constexpr std::size_t most_numbers = 4'000'000;

} // namespace

Expected<void> RowMaker::add(const Piece& piece, const std::string& name) {
    const auto number = number_in(piece);
    if (!number) {
        return tl::unexpected(number.error());
    }
    hear(piece.line);
    if (!is_open_ || rows_.rows.back().name != (name.empty() ? heading_ : name)) {
        rows_.rows.push_back({name.empty() ? heading_ : name, {}, words_});
        is_open_ = true;
    }
    rows_.rows.back().cells.push_back({*number, piece.line});
    if (++numbers_ > most_numbers) {
        return refuse(fmt::format("line {}", piece.line),
                      fmt::format("more than {} numbers", most_numbers), "take fewer");
    }
    return {};
}

void RowMaker::head(const std::string& name, std::size_t line) {
    hear(line);
    heading_ = name;
    end_row();
}

void RowMaker::leave_out(const std::string& name) {
    if (std::ranges::find(rows_.left_out, name) == rows_.left_out.end()
        && rows_.left_out.size() < 20) {
        rows_.left_out.push_back(name);
    }
}

void RowMaker::set_titles(std::vector<std::string> titles) {
    rows_.titles = std::move(titles);
}

Expected<WrittenNumbers> RowMaker::made() {
    hear(std::string::npos);
    if (rows_.rows.empty()) {
        return refuse("", "the text holds no numbers", "choose a file of coefficients");
    }
    return std::move(rows_);
}

// Takes in the comments above a line.
void RowMaker::hear(std::size_t line) {
    for (; next_ < comments_.size() && comments_[next_].line < line; ++next_) {
        const std::string& text = comments_[next_].text;
        if (text.starts_with("taps") && (text.size() == 4 || text[4] == ';')) {
            heading_ = "taps";
            end_row();
        }
        if (text.find("two's complement, ") != std::string::npos
            || text.find("IEEE 754, ") != std::string::npos) {
            words_ = text;
        }
        if (const auto rate = rate_in(text)) {
            rows_.said.emplace("sample_rate_hz", *rate);
        }
        const auto colon = text.find(": ");
        if (colon != std::string::npos) {
            rows_.said.emplace(trimmed(text.substr(0, colon)), trimmed(text.substr(colon + 2)));
        }
    }
}

} // namespace syntonon
