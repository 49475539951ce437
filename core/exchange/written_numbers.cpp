// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written_numbers.h"

#include "core/base/digits.h"
#include "core/base/number_text.h"
#include "core/exchange/written/braced_numbers.h"
#include "core/exchange/written/code_and_comments.h"
#include "core/exchange/written/number_pieces.h"
#include "core/exchange/written/numbers_in_lines.h"
#include "core/exchange/written/row_maker.h"

#include <algorithm>
#include <utility>

namespace syntonon {
namespace {

// The runs between blanks, semicolons and tabs: is each a number with one comma at most?
bool has_decimal_commas(std::string_view code) {
    if (code.find('.') != std::string_view::npos || code.find(',') == std::string_view::npos) {
        return false;
    }
    while (!code.empty()) {
        const auto begin = std::min(code.find_first_not_of(" \t\r\n;|[]"), code.size());
        code.remove_prefix(begin);
        const auto end = std::min(code.find_first_of(" \t\r\n;|[]"), code.size());
        const std::string_view run = code.substr(0, end);
        code.remove_prefix(end);
        const auto comma = run.find(',');
        if (comma == std::string_view::npos) {
            continue;
        }
        std::string as_point(run);
        as_point[comma] = '.';
        if (comma == 0 || comma + 1 == run.size() || !is_digit(run[comma - 1])
            || !is_digit(run[comma + 1]) || !number_from_text(as_point)) {
            return false;
        }
    }
    return true;
}

// Words of a memory: nothing but equally many hexadecimal digits, three at least.
bool are_bare_words(const std::vector<Piece>& pieces) {
    std::size_t digits = 0;
    bool has_letter = false, has_leading_zero = false, has_several = false;
    for (const Piece& piece : pieces) {
        if (piece.kind == PieceKind::line_end) {
            continue;
        }
        if (piece.kind == PieceKind::mark || !std::ranges::all_of(piece.text, is_hexadecimal)
            || (digits != 0 && piece.text.size() != digits)) {
            return false;
        }
        has_several = has_several || digits != 0;
        digits = piece.text.size();
        has_letter = has_letter || !std::ranges::all_of(piece.text, is_digit);
        has_leading_zero = has_leading_zero || piece.text[0] == '0';
    }
    return digits >= 3 && digits <= 16 && has_several && (has_letter || has_leading_zero);
}

} // namespace

Expected<WrittenNumbers> written_numbers(std::string_view text) {
    CodeAndComments parts = code_and_comments(text);
    const bool is_braced = parts.code.find('{') != std::string::npos;
    if (!is_braced && has_decimal_commas(parts.code)) {
        std::ranges::replace(parts.code, ',', '.');
    }
    std::vector<Piece> pieces = pieces_of(parts.code);
    if (are_bare_words(pieces)) {
        for (Piece& piece : pieces) {
            if (piece.kind != PieceKind::line_end) {
                piece = {PieceKind::number, "0x" + piece.text, piece.line};
            }
        }
    }
    RowMaker rows(parts.comments);
    const auto ok =
        is_braced ? read_braced_numbers(pieces, rows) : read_numbers_in_lines(pieces, rows);
    return ok ? rows.made() : tl::unexpected(ok.error());
}

} // namespace syntonon
