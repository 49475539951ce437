// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written/numbers_in_lines.h"

#include "core/base/digits.h"
#include "core/base/number_text.h"
#include "core/exchange/written/number_names.h"

#include <algorithm>
#include <cstddef>
#include <fmt/format.h>
#include <string>

namespace syntonon {
namespace {

class LineReader {
public:
    LineReader(const std::vector<Piece>& pieces, RowMaker& rows)
        : rows_(rows), has_brackets_(std::ranges::any_of(
                           pieces, [](const Piece& piece) { return piece.is_mark('['); })) {
        for (const Piece& piece : pieces) {
            lines_.back().push_back(piece);
            if (piece.kind == PieceKind::line_end) {
                lines_.emplace_back();
            }
        }
    }

    Expected<void> read() {
        for (const std::vector<Piece>& line : lines_) {
            const bool has_number = std::ranges::any_of(
                line, [](const Piece& piece) { return piece.kind == PieceKind::number; });
            const bool has_name = std::ranges::any_of(
                line, [](const Piece& piece) { return piece.kind == PieceKind::name; });
            if (has_name && !has_number) {
                take_heading(line);
            } else if (auto ok = take(line); !ok) {
                return ok;
            }
        }
        return {};
    }

private:
    void take_heading(const std::vector<Piece>& line) {
        std::vector<std::string> names;
        for (const Piece& piece : line) {
            if (piece.kind == PieceKind::name) {
                names.push_back(piece.text);
            }
        }
        const auto terms = std::ranges::count_if(
            names, [](const std::string& name) { return is_term(known_name({name})); });
        if (terms >= 2) {
            rows_.set_titles(names);
            rows_.head("", line.front().line);
            return;
        }
        const bool is_value = lower_case(names.back()) == "value";
        const std::string known = is_value ? "taps" : known_name(names);
        rows_.head(is_term(known) || known == "rate" ? "" : known, line.front().line);
    }

    // "Section 2:" and "biquad 2" say where one is, not what.
    static bool counts_only(const std::vector<Piece>& line, std::size_t at) {
        std::size_t next = at + 1;
        while (next < line.size() && line[next].kind == PieceKind::number) {
            ++next;
        }
        const bool is_alone = next == at + 1;
        return is_alone
               && (line[next].kind == PieceKind::line_end || line[next].is_mark(':')
                   || line[next].is_mark(';'))
               && std::ranges::all_of(line[at].text, is_digit);
    }

    Expected<void> take(const std::vector<Piece>& line) {
        std::vector<std::string> phrase;
        std::string label;
        bool is_named = false; // by words, known or not
        rows_.end_row();
        for (std::size_t i = 0; i < line.size(); ++i) {
            const Piece& piece = line[i];
            if (piece.kind == PieceKind::name) {
                if (phrase.empty()) {
                    label.clear();
                    is_named = false;
                }
                phrase.push_back(piece.text);
            } else if (piece.kind == PieceKind::number) {
                if (!phrase.empty()) {
                    label = known_name(phrase);
                    is_named = true;
                    if (label.empty() && counts_only(line, i)) {
                        phrase.clear();
                        is_named = false;
                        rows_.head("", piece.line);
                        continue;
                    }
                    if (label.empty()) {
                        rows_.leave_out(fmt::format("{}", fmt::join(phrase, " ")));
                    }
                    phrase.clear();
                }
                if (is_named && label.empty()) {
                    continue;
                }
                if (auto ok = rows_.add(piece, label); !ok) {
                    return ok;
                }
                if (is_term(label)) {
                    label.clear();
                    is_named = false;
                    rows_.end_row();
                }
            } else if (piece.is_mark('[') || piece.is_mark(']')
                       || (piece.is_mark(';') && has_brackets_)) {
                rows_.end_row();
            }
        }
        return {};
    }

    RowMaker& rows_;
    bool has_brackets_;
    std::vector<std::vector<Piece>> lines_{1};
};

} // namespace

Expected<void> read_numbers_in_lines(const std::vector<Piece>& pieces, RowMaker& rows) {
    return LineReader(pieces, rows).read();
}

} // namespace syntonon
