// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/written_numbers.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <fmt/format.h>
#include <optional>

namespace syntonon {
namespace {

constexpr std::size_t most_numbers = 4'000'000;

bool is_digit(char c) {
    return c >= '0' && c <= '9';
}
bool is_hexadecimal(char c) {
    return is_digit(c) || (c >= 'a' && c <= 'f') || (c >= 'A' && c <= 'F');
}
bool is_word_letter(char c) {
    return is_digit(c) || (c >= 'a' && c <= 'z') || c == '_';
}
bool is_between(char c) {
    return std::string_view(" \t\r,|'").find(c) != std::string_view::npos;
}

struct Comment {
    std::size_t line;
    std::string text;
};

// The text without its comments, line for line, and these by themselves.
struct Parts {
    std::string code;
    std::vector<Comment> comments;
};

class CommentCutter {
public:
    explicit CommentCutter(std::string_view text) : text_(text) {}

    Parts cut() {
        while (at_ < text_.size()) {
            const std::string_view two = text_.substr(at_, 2);
            if (text_[at_] == '\n') {
                put('\n');
            } else if (two == "/*") {
                to_star();
            } else if (two == "//" || text_[at_] == '#') {
                at_ += two == "//" ? 2 : 1;
                to_end_of_line();
            } else {
                put(text_[at_]);
            }
        }
        return std::move(parts_);
    }

private:
    void put(char c) {
        parts_.code += c;
        line_ += c == '\n' ? 1 : 0;
        ++at_;
    }
    void keep(std::string_view comment) {
        while (!comment.empty() && (comment.front() == '*' || comment.front() == ' ')) {
            comment.remove_prefix(1);
        }
        parts_.comments.push_back({line_, std::string(trimmed(comment))});
    }
    void to_end_of_line() {
        const auto end = std::min(text_.find('\n', at_), text_.size());
        keep(text_.substr(at_, end - at_));
        at_ = end;
    }
    void to_star() {
        at_ += 2;
        const auto end = std::min(text_.find("*/", at_), text_.size());
        while (at_ < end) {
            const auto line_end = std::min(text_.find('\n', at_), end);
            keep(text_.substr(at_, line_end - at_));
            at_ = line_end;
            if (at_ < end) {
                put('\n');
            }
        }
        at_ = std::min(end + 2, text_.size());
        parts_.code += ' ';
    }

    std::string_view text_;
    std::size_t at_ = 0, line_ = 1;
    Parts parts_;
};

enum class Kind { number, name, mark, line_end };
struct Piece {
    Kind kind = Kind::line_end;
    std::string text;
    std::size_t line = 0;
    bool is_text = false; // stood in quotes

    bool is_mark(char c) const { return kind == Kind::mark && text[0] == c; }
};

bool begins_number(std::string_view text) {
    const std::size_t sign = text.starts_with('-') || text.starts_with('+') ? 1 : 0;
    const std::size_t point = text.substr(sign).starts_with('.') ? 1 : 0;
    return text.size() > sign + point && is_digit(text[sign + point]);
}

// "b[0]" is b0: the only names whose brackets are part of them.
std::size_t index_behind(std::string_view code, std::size_t at, std::string& name) {
    if (name.size() != 1 || at >= code.size() || code[at] != '[') {
        return at;
    }
    const auto end = code.find(']', at);
    if (end == std::string_view::npos || end == at + 1 || end > at + 4
        || !std::ranges::all_of(code.substr(at + 1, end - at - 1), is_digit)) {
        return at;
    }
    auto next = end + 1;
    while (next < code.size() && code[next] == ' ') {
        ++next;
    }
    const auto value = code.find_first_not_of(" \t\r\n", next + 1);
    const bool is_array =
        next < code.size() && code[next] == '=' && value < code.size() && code[value] == '{';
    if (!is_array) {
        name += code.substr(at + 1, end - at - 1);
    }
    return end + 1;
}

constexpr std::string_view marks = "=:{}[]();";

std::vector<Piece> pieces_of(std::string_view code) {
    std::vector<Piece> pieces;
    std::size_t line = 1;
    for (std::size_t at = 0; at < code.size();) {
        const char c = code[at];
        if (c == '\n') {
            pieces.push_back({Kind::line_end, {}, line++});
            ++at;
        } else if (marks.find(c) != std::string_view::npos) {
            pieces.push_back({Kind::mark, std::string(1, c), line});
            ++at;
        } else if (is_between(c)) {
            ++at;
        } else if (c == '"') {
            const auto end = std::min(code.find_first_of("\"\n", at + 1), code.size());
            pieces.push_back(
                {Kind::name, std::string(code.substr(at + 1, end - at - 1)), line, true});
            at = end + (end < code.size() && code[end] == '"' ? 1 : 0);
        } else {
            auto end = at + 1;
            while (end < code.size() && code[end] != '\n' && !is_between(code[end])
                   && marks.find(code[end]) == std::string_view::npos) {
                ++end;
            }
            std::string text(code.substr(at, end - at));
            const bool is_number = begins_number(text);
            if (!is_number) {
                text.erase(0, text.starts_with('.') ? 1 : 0);
                end = index_behind(code, end, text);
            }
            pieces.push_back({is_number ? Kind::number : Kind::name, std::move(text), line});
            at = end;
        }
    }
    pieces.push_back({Kind::line_end, {}, line});
    return pieces;
}

// "b0" to "a200", "gain", "b", "a", "taps", "rate"; empty of any other name.
std::string known_part(std::string_view part) {
    if (part.size() >= 2 && part.size() <= 4 && (part[0] == 'a' || part[0] == 'b')
        && std::ranges::all_of(part.substr(1), is_digit)) {
        return std::string(part);
    }
    if (part.size() >= 2 && part[0] == 'h' && std::ranges::all_of(part.substr(1), is_digit)) {
        return "taps";
    }
    struct Same {
        std::string_view name;
        std::array<std::string_view, 5> words;
    };
    static constexpr std::array<Same, 5> names = {{
        {"b", {"b", "numerator", "num", "feedforward", "zeros"}},
        {"a", {"a", "denominator", "den", "feedback", "poles"}},
        {"taps", {"taps", "tap", "fir", "impulse", "h"}},
        {"gain", {"gain", "scale", "gain", "gain", "gain"}},
        {"rate", {"rate", "samplerate", "fs", "rate", "rate"}},
    }};
    for (const Same& same : names) {
        if (std::ranges::find(same.words, part) != same.words.end()) {
            return std::string(same.name);
        }
    }
    return {};
}

// Single letters name something only where nothing but the name stands there.
std::string known_name(const std::vector<std::string>& words) {
    for (auto word = words.rbegin(); word != words.rend(); ++word) {
        std::string rest = lower_case(*word);
        while (!rest.empty()) {
            const auto joint = rest.rfind('_');
            const std::string part = joint == std::string::npos ? rest : rest.substr(joint + 1);
            const std::string before =
                joint == std::string::npos ? std::string() : rest.substr(0, joint);
            const bool is_index = std::ranges::all_of(part, is_digit)
                                  && (before == "a" || before == "b" || before.ends_with("_a")
                                      || before.ends_with("_b"));
            std::string known = known_part(is_index ? before.back() + part : part);
            if (!known.empty() && (words.size() == 1 || part.size() > 1)) {
                return known;
            }
            rest = before;
        }
    }
    return {};
}

bool is_term(std::string_view name) {
    return name == "gain" || (name.size() >= 2 && (name[0] == 'a' || name[0] == 'b'));
}

Expected<std::string> number_in(const Piece& piece) {
    std::string text = piece.text;
    if (text.starts_with("0x") || text.starts_with("0X")) {
        while (text.size() > 2 && std::string_view("uUlL").find(text.back()) != std::string::npos) {
            text.pop_back();
        }
        if (text.size() > 2 && text.size() <= 18
            && std::ranges::all_of(text.substr(2), is_hexadecimal)) {
            return lower_case(text);
        }
    } else {
        const bool is_float = text.back() == 'f' || text.back() == 'F';
        while (!text.empty() && std::string_view("fFlLuU").find(text.back()) != std::string::npos) {
            text.pop_back();
        }
        if (const auto value = number_from_text(text)) {
            // A float's digits stand for that float, not for the double nearest to them.
            return is_float ? text_with_digits(static_cast<float>(*value), 17) : text;
        }
    }
    return refuse(fmt::format("line {}", piece.line),
                  fmt::format("“{}” is not a number", piece.text), "leave it out");
}

// "sample rate 44100 Hz", "fs = 44.1 kHz" in a comment, in Hz.
std::optional<std::string> rate_in(std::string_view comment) {
    const std::string text = lower_case(comment);
    for (const std::string_view name : {"sample rate", "sampling rate", "fs"}) {
        const auto at = text.find(name);
        if (at == std::string::npos || (at > 0 && is_word_letter(text[at - 1]))) {
            continue;
        }
        auto from = text.find_first_not_of(" :=", at + name.size());
        from = std::min(from, text.size());
        auto to = from;
        while (to < text.size() && (is_digit(text[to]) || text[to] == '.')) {
            ++to;
        }
        const auto number = number_from_text(std::string_view(text).substr(from, to - from));
        if (number && *number > 0) {
            const bool is_kilo = trimmed(std::string_view(text).substr(to)).starts_with("khz");
            return shortest_text(*number * (is_kilo ? 1000 : 1));
        }
    }
    return std::nullopt;
}

// What both ways of reading share: rows as they come, with what comments said above them.
class RowMaker {
public:
    explicit RowMaker(const std::vector<Comment>& comments) : comments_(comments) {}

    Expected<void> add(const Piece& piece, const std::string& name) {
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
    void end_row() { is_open_ = false; }
    void head(const std::string& name, std::size_t line) {
        hear(line);
        heading_ = name;
        end_row();
    }
    void leave_out(const std::string& name) {
        if (std::ranges::find(rows_.left_out, name) == rows_.left_out.end()
            && rows_.left_out.size() < 20) {
            rows_.left_out.push_back(name);
        }
    }
    void set_titles(std::vector<std::string> titles) { rows_.titles = std::move(titles); }
    bool has_rows() const { return !rows_.rows.empty(); }

    Expected<WrittenNumbers> made() {
        hear(std::string::npos);
        if (rows_.rows.empty()) {
            return refuse("", "the text holds no numbers", "choose a file of coefficients");
        }
        return std::move(rows_);
    }

private:
    // Takes in the comments above a line.
    void hear(std::size_t line) {
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

    const std::vector<Comment>& comments_;
    std::size_t next_ = 0, numbers_ = 0;
    std::string heading_, words_;
    bool is_open_ = false;
    WrittenNumbers rows_;
};

// Arrays and structures of C, also within the declarations of a program; lists of names and
// numbers in braces. Bodies of functions are left out.
class BracedReader {
public:
    BracedReader(const std::vector<Piece>& pieces, RowMaker& rows) : pieces_(pieces), rows_(rows) {}

    Expected<void> read() {
        for (const Piece& piece : pieces_) {
            if (piece.kind == Kind::line_end) {
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
            piece.is_mark('[') && (before_.kind == Kind::name || before_.is_mark(']'));
        const bool is_body = piece.is_mark('{') && before_.is_mark(')') && !is_in_list();
        const bool is_call = piece.is_mark('(') && !is_in_list();
        if (is_size || is_body || is_call) {
            skipped_ = 1;
            return {};
        }
        return piece.kind == Kind::mark   ? mark(piece)
               : piece.kind == Kind::name ? name(piece)
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
        if (!is_in_list() && before_.kind == Kind::name) {
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

// Tables and named numbers, a line at a time.
class LineReader {
public:
    LineReader(const std::vector<Piece>& pieces, RowMaker& rows)
        : rows_(rows), has_brackets_(std::ranges::any_of(
                           pieces, [](const Piece& piece) { return piece.is_mark('['); })) {
        for (const Piece& piece : pieces) {
            lines_.back().push_back(piece);
            if (piece.kind == Kind::line_end) {
                lines_.emplace_back();
            }
        }
    }

    Expected<void> read() {
        for (const std::vector<Piece>& line : lines_) {
            const bool has_number = std::ranges::any_of(
                line, [](const Piece& piece) { return piece.kind == Kind::number; });
            const bool has_name = std::ranges::any_of(
                line, [](const Piece& piece) { return piece.kind == Kind::name; });
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
            if (piece.kind == Kind::name) {
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
        while (next < line.size() && line[next].kind == Kind::number) {
            ++next;
        }
        const bool is_alone = next == at + 1;
        return is_alone
               && (line[next].kind == Kind::line_end || line[next].is_mark(':')
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
            if (piece.kind == Kind::name) {
                if (phrase.empty()) {
                    label.clear();
                    is_named = false;
                }
                phrase.push_back(piece.text);
            } else if (piece.kind == Kind::number) {
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
        if (piece.kind == Kind::line_end) {
            continue;
        }
        if (piece.kind == Kind::mark || !std::ranges::all_of(piece.text, is_hexadecimal)
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
    Parts parts = CommentCutter(text).cut();
    const bool is_braced = parts.code.find('{') != std::string::npos;
    if (!is_braced && has_decimal_commas(parts.code)) {
        std::ranges::replace(parts.code, ',', '.');
    }
    std::vector<Piece> pieces = pieces_of(parts.code);
    if (are_bare_words(pieces)) {
        for (Piece& piece : pieces) {
            if (piece.kind != Kind::line_end) {
                piece = {Kind::number, "0x" + piece.text, piece.line};
            }
        }
    }
    RowMaker rows(parts.comments);
    const auto ok = is_braced ? BracedReader(pieces, rows).read() : LineReader(pieces, rows).read();
    return ok ? rows.made() : tl::unexpected(ok.error());
}

} // namespace syntonon
