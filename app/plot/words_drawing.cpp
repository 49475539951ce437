// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/words_drawing.h"

#include "app/plot/lane_view.h"
#include "app/plot/painted_axes.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/word/word_aim.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double least_off_db = 0.001; // that the lower lane is scaled to

class WordsDrawing : PaintedAxes {
public:
    WordsDrawing(QPainter& painter, const QRectF& room, const WordsPicture& picture,
                 const Theme& theme)
        : PaintedAxes(painter, room, theme, picture.hz.front(), picture.hz.back()),
          picture_(picture), parts_(parts_of_hz(picture.hz)) {}

    void paint_levels() {
        double high = -200;
        for (const double db : picture_.ideal_db) {
            high = std::max(high, db);
        }
        step_ = 12;
        high_ = std::ceil((high + 3) / 6) * 6;
        low_ = high_ - 48;
        begin(tr(" dB"));
        curve(parts_, picture_.ideal_db, QPen(theme_.ink, 1.4));
        curve(parts_, picture_.words_db, QPen(theme_.text, 1.2, Qt::DashLine));
        end(tr("Magnitude"),
            {{theme_.ink, tr("as designed")}, {theme_.text, tr("as words"), Qt::DashLine}});
    }

    void paint_deviation() {
        const bool is_searched = !picture_.searched_off_db.empty();
        const double widest =
            std::max({least_off_db, greatest_where_heard(picture_.searched_off_db),
                      is_searched ? 0.0 : greatest_where_heard(picture_.nearest_off_db)});
        step_ = round_step(widest * 0.8);
        high_ = std::ceil(widest * 1.15 / step_) * step_;
        low_ = -high_;
        begin({}); // the title says of what
        std::vector<Entry> entries;
        if (!picture_.nearest_off_db.empty()) {
            const QPen pen(is_searched ? theme_.measured : theme_.ink, 1.3,
                           is_searched ? Qt::DashLine : Qt::SolidLine);
            curve(parts_, picture_.nearest_off_db, pen);
            entries.push_back({pen.color(), tr("nearest words"), pen.style()});
        }
        if (is_searched) {
            curve(parts_, picture_.searched_off_db, QPen(theme_.ink, 1.4));
            entries.push_back({theme_.ink, tr("searched words")});
        }
        end(tr("Deviation, ±%1 dB shown").arg(shown_number(high_, 2)), std::move(entries));
    }

private:
    void begin(const QString& unit) {
        painter_.save();
        ground();
        frequency_axis();
        value_axis(unit);
        painter_.setClipRect(area_);
    }
    void end(const QString& title, std::vector<Entry> entries) {
        painter_.setClipping(false);
        frame();
        legend(title, std::move(entries));
        painter_.restore();
    }
    // Where the chain is not 60 dB down.
    double greatest_where_heard(const std::vector<double>& off) const {
        const double loudest = *std::ranges::max_element(picture_.ideal_db);
        double greatest = 0;
        for (std::size_t i = 0; i < off.size(); ++i) {
            if (picture_.ideal_db[i] > loudest - 60 && std::isfinite(off[i])) {
                greatest = std::max(greatest, std::abs(off[i]));
            }
        }
        return greatest;
    }

    const WordsPicture& picture_;
    Values parts_;
};

} // namespace

void paint_words(QPainter& painter, const QRectF& room, const WordsPicture& picture,
                 const Theme& theme) {
    const double above = std::round(room.height() * 0.55);
    WordsDrawing(painter, QRectF(room.topLeft(), QSizeF(room.width(), above)), picture, theme)
        .paint_levels();
    WordsDrawing(painter,
                 QRectF(room.left(), room.top() + above, room.width(), room.height() - above),
                 picture, theme)
        .paint_deviation();
}

} // namespace syntonon
