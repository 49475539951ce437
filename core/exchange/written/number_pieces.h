// The numbers, names and marks that a text of numbers consists of.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class PieceKind { number, name, mark, line_end };
struct Piece {
    PieceKind kind = PieceKind::line_end;
    std::string text;
    std::size_t line = 0;
    bool is_text = false; // stood in quotes

    bool is_mark(char c) const { return kind == PieceKind::mark && text[0] == c; }
};

// Of a text without comments; each line's pieces end with a line_end. Numbers are what begins as
// one; "b[0]" is the name b0.
std::vector<Piece> pieces_of(std::string_view code);

// As WrittenNumber has it; refused with the line.
Expected<std::string> number_in(const Piece& piece);

} // namespace syntonon
