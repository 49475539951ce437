// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/level_plot.h"

#include "app/plot/lane_view.h"
#include "app/plot/painted_axes.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double shown_below_db = 80; // of the greatest: deep notches hide the rest else

class LevelDrawing : PaintedAxes {
public:
    LevelDrawing(QPainter& painter, const QRectF& room, const std::vector<double>& hz,
                 const std::vector<NamedLevel>& levels, const QString& title)
        : PaintedAxes(painter, room, theme(), hz.front(), hz.back()), hz_(hz), levels_(levels),
          title_(title) {}

    void paint() {
        fit();
        painter_.setFont(text_font(11));
        ground();
        frequency_axis();
        value_axis(tr(" dB"));
        painter_.setClipRect(area_);
        const Values parts = parts_of_hz(hz_);
        std::vector<Entry> entries;
        for (const NamedLevel& level : levels_) {
            curve(parts, level.db, QPen(level.colour, 1.4, level.line));
            entries.push_back({level.colour, level.name, level.line});
        }
        painter_.setClipping(false);
        frame();
        legend(title_, entries);
    }

private:
    void fit() {
        double least = 1e9, greatest = -1e9;
        for (const NamedLevel& level : levels_) {
            for (const double db : level.db) {
                if (std::isfinite(db)) {
                    least = std::min(least, db);
                    greatest = std::max(greatest, db);
                }
            }
        }
        if (least > greatest) {
            least = greatest = 0;
        }
        least = std::max(least, greatest - shown_below_db);
        // At least so much that a flat response looks flat.
        const double middle = (least + greatest) / 2;
        const double half = std::max(3.0, 0.55 * (greatest - least));
        step_ = round_step(half / 2);
        low_ = step_ * std::floor((middle - half) / step_);
        high_ = step_ * std::ceil((middle + half) / step_);
    }

    const std::vector<double>& hz_;
    const std::vector<NamedLevel>& levels_;
    const QString& title_;
};

} // namespace

LevelPlot::LevelPlot(QWidget* parent) : QWidget(parent), title_(tr("Level")) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(240, 110);
    setAccessibleName(tr("Level over frequency"));
}

void LevelPlot::show_levels(std::vector<double> hz, std::vector<NamedLevel> levels,
                            const QString& otherwise) {
    hz_ = std::move(hz);
    levels_ = std::move(levels);
    otherwise_ = otherwise;
    update();
}

void LevelPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().ground);
    if (levels_.empty() || hz_.size() < 2) {
        painter.setFont(text_font(11));
        painter.setPen(theme().soft);
        painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         otherwise_);
        return;
    }
    LevelDrawing(painter, rect(), hz_, levels_, title_).paint();
}

} // namespace syntonon
