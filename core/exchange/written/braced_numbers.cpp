// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written/braced_numbers.h"

#include "core/exchange/written/number_names.h"

#include <cstddef>
#include <fmt/format.h>
#include <optional>
#include <string>

namespace syntonon {
namespace {

class BracedReader {
public:
    BracedReader(const std::vector<Piece>& pieces, RowMaker& rows) : pieces_(pieces), rows_(rows) {}

    Expected<void> read() {
        for (const Piece& piece : pieces_) {
            if (piece.kind == PieceKind::line_end) {
                continue;
            }
            if (auto ok = skipped_ > 0 ? skip(piece) : take(piece); !ok) {
                return ok;
            }
            before_ = piece;
        }
        return open_.empty()
                   ? Expected<void>()
                   : refuse(fmt::format("line {}", open_.back().line),
                            "a brace is opened and not closed", "the file may have been cut off");
    }

private:
    struct Open {
        std::size_t line;
        std::string name;
        bool is_list; // of numbers, not of declarations
        char end;
    };

    bool is_in_list() const { return !open_.empty() && open_.back().is_list; }

    Expected<void> skip(const Piece& piece) {
        skipped_ += opens(piece) ? 1 : closes(piece) ? -1 : 0;
        return {};
    }
    static bool opens(const Piece& piece) {
        return piece.is_mark('{') || piece.is_mark('[') || piece.is_mark('(');
    }
    static bool closes(const Piece& piece) {
        return piece.is_mark('}') || piece.is_mark(']') || piece.is_mark(')');
    }

    Expected<void> take(const Piece& piece) {
        const bool is_size =
            piece.is_mark('[') && (before_.kind == PieceKind::name || before_.is_mark(']'));
        const bool is_body = piece.is_mark('{') && before_.is_mark(')') && !is_in_list();
        const bool is_call = piece.is_mark('(') && !is_in_list();
        if (is_size || is_body || is_call) {
            skipped_ = 1;
            return {};
        }
        return piece.kind == PieceKind::mark   ? mark(piece)
               : piece.kind == PieceKind::name ? name(piece)
                                               : number(piece);
    }

    Expected<void> mark(const Piece& piece) {
        if (piece.is_mark('=') || piece.is_mark(':')) {
            given_ = last_;
            waits_.reset();
        } else if (piece.is_mark('{') || piece.is_mark('[')) {
            open(piece);
        } else if (piece.is_mark('}') || piece.is_mark(']')) {
            return close(piece);
        } else if (piece.is_mark(';')) {
            given_.reset();
        }
        return {};
    }
    void open(const Piece& piece) {
        const std::string outer = open_.empty() ? std::string() : open_.back().name;
        const std::string own = given_ ? known_name({*given_}) : std::string();
        open_.push_back({piece.line, own.empty() ? outer : own, given_ || is_in_list(),
                         piece.is_mark('{') ? '}' : ']'});
        given_.reset();
        rows_.end_row();
    }
    Expected<void> close(const Piece& piece) {
        if (waits_) {
            return not_a_number(*waits_);
        }
        if (open_.empty() || !piece.is_mark(open_.back().end)) {
            return refuse(fmt::format("line {}", piece.line),
                          fmt::format("“{}” closes what was not opened", piece.text),
                          "look at the lines above");
        }
        open_.pop_back();
        given_.reset();
        rows_.end_row();
        return {};
    }
    Expected<void> name(const Piece& piece) {
        last_ = piece.text;
        if (piece.is_text) {
            given_.reset(); // of a name, not of a number
            return {};
        }
        if (waits_) {
            return not_a_number(*waits_);
        }
        if (is_in_list()) {
            waits_ = piece;
        }
        return {};
    }
    Expected<void> number(const Piece& piece) {
        if (waits_) {
            return not_a_number(*waits_);
        }
        if (given_) {
            const std::string known = known_name({*given_});
            if (known.empty()) {
                rows_.leave_out(*given_);
                given_.reset();
                return {};
            }
            given_.reset();
            rows_.end_row();
            auto ok = rows_.add(piece, known);
            rows_.end_row();
            return ok;
        }
        if (!is_in_list() && before_.kind == PieceKind::name) {
            return {};
        }
        return rows_.add(piece, open_.empty() ? std::string() : open_.back().name);
    }
    static tl::unexpected<Problem> not_a_number(const Piece& piece) {
        return refuse(fmt::format("line {}", piece.line),
                      fmt::format("“{}” is not a number", piece.text), "write its number");
    }

    const std::vector<Piece>& pieces_;
    RowMaker& rows_;
    std::vector<Open> open_;
    int skipped_ = 0; // of these that are open
    Piece before_;
    std::string last_;                 // name
    std::optional<std::string> given_; // what the next number or list is called
    std::optional<Piece> waits_;       // a name in a list, so far without its number
};

} // namespace

Expected<void> read_braced_numbers(const std::vector<Piece>& pieces, RowMaker& rows) {
    return BracedReader(pieces, rows).read();
}

} // namespace syntonon
