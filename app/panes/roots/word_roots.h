// The roots that a chain has as words, and the places that the words have for poles at all.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/panes/roots/plane_view.h"
#include "app/widgets/theme.h"
#include "core/word/nearest_words.h"

#include <QPainter>
#include <QPixmap>
#include <complex>
#include <optional>
#include <vector>

namespace syntonon {

// While chains are seen as the words of a delivery. Nothing of an analog channel.
class WordRoots {
public:
    // Dots, as long as they can be told apart; kept until the view or the words' format changes.
    void paint_grid(QPainter& painter, const Session& session, const PlaneView& view,
                    const QRect& room);
    // Whether dots would be drawn in such a view.
    static bool has_room(const WordFormat& format, const PlaneView& view, const QRect& room);
    // Filled: squares are poles, discs zeros.
    static void paint_roots(QPainter& painter, const Session& session, const PlaneView& view);
    // "Filled: as Q2.14 in direct form I. Dots: where its poles can lie"; empty while there are no
    // words.
    QString words() const { return words_; }
    std::size_t dots() const { return dots_; }

private:
    struct Grid {
        WordFormat format;
        PlaneView view;
        QRect room;
        ThemeName theme{};
        bool operator==(const Grid& other) const = default;
    };
    struct Dots;
    static Dots dots_in(const WordFormat& format, const PlaneView& view, const QRect& room);
    void draw(const Grid& grid, double pixel_ratio);

    std::optional<Grid> drawn_;
    QPixmap picture_;
    QString words_;
    std::size_t dots_ = 0;
};

} // namespace syntonon
