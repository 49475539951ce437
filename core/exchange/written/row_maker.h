// Rows of numbers as they come, with what comments said above them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/written/code_and_comments.h"
#include "core/exchange/written/number_pieces.h"
#include "core/exchange/written_numbers.h"

#include <cstddef>
#include <string>
#include <vector>

namespace syntonon {

class RowMaker {
public:
    explicit RowMaker(const std::vector<Comment>& comments) : comments_(comments) {}

    // Into the row of that name, or of the heading above; refused with the line.
    Expected<void> add(const Piece& piece, const std::string& name);
    void end_row() { is_open_ = false; }
    void head(const std::string& name, std::size_t line); // what rows without a name are called
    void leave_out(const std::string& name);
    void set_titles(std::vector<std::string> titles);

    Expected<WrittenNumbers> made(); // refused without any

private:
    void hear(std::size_t line);

    const std::vector<Comment>& comments_;
    std::size_t next_ = 0, numbers_ = 0;
    std::string heading_, words_;
    bool is_open_ = false;
    WrittenNumbers rows_;
};

} // namespace syntonon
