// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/bench_pictures.h"

#include "app/panes/listen/track_colour.h"
#include "app/plot/lane_labels.h"
#include "app/plot/picture_scale.h"
#include "app/plot/spectrogram_picture.h"
#include "app/widgets/line_text.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "core/signal/levels.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int axis_width = 56, picture_right = 16, picture_top = 8, picture_bottom = 22;

} // namespace

BenchPicture::BenchPicture(BenchWork& bench, const QString& name, QWidget* parent)
    : QWidget(parent), bench_(bench) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setAccessibleName(name);
    connect(&bench_, &BenchWork::changed, this, &BenchPicture::mark_stale);
    connect(&bench_, &BenchWork::span_changed, this, &BenchPicture::mark_stale);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { update(); });
}

void BenchPicture::mark_stale() {
    stale_ = true;
    if (isVisible()) {
        stale_ = false;
        refresh();
    }
}

void BenchPicture::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (stale_) {
        stale_ = false;
        refresh();
    }
}

std::vector<Track> BenchPicture::there() const {
    std::vector<Track> found;
    for (const Track track : all_tracks) {
        if (!bench_.values(track).empty()) {
            found.push_back(track);
        }
    }
    return found;
}

double BenchPicture::paint_tag(QPainter& painter, const QPointF& at, Track track) const {
    const QString word = bench_.word_for(track);
    const QRectF box(at, QSizeF(line_width(painter.font(), word) + 8, 15));
    painter.fillRect(box, shining_through());
    painter.setPen(colour_of(bench_, track));
    draw_line(painter, box, Qt::AlignCenter, word);
    return box.right();
}

void BenchPicture::paint_lines(QPainter& painter, const QRectF& area,
                               const std::function<QPolygonF(Track)>& line_of) const {
    painter.setRenderHint(QPainter::Antialiasing);
    double tag_x = area.left() + 4;
    for (const Track track : there()) {
        painter.setPen(QPen(colour_of(bench_, track), 1));
        draw_thin_line(painter, line_of(track));
        tag_x = paint_tag(painter, {tag_x, area.top() + 3}, track) + 6;
    }
    painter.setPen(theme().soft);
}

void BenchPicture::show_made_of(const BenchStretch& stretch) {
    made_of_ = stretch.tracks[index_of(Track::in)];
    update();
}

bool BenchPicture::begin_painting(QPainter& painter) const {
    painter.fillRect(rect(), theme().panel);
    painter.setFont(text_font(11));
    if (bench_.length() == 0 || made_of_ == bench_.samples(Track::in)) {
        return bench_.length() > 0;
    }
    painter.setPen(theme().soft);
    painter.drawText(rect(), Qt::AlignCenter, tr("being worked out"));
    return false;
}

void BenchPicture::paint_time_axis(QPainter& painter, const QRectF& area) const {
    const auto [from, to] = bench_.span_or_all();
    painter.setPen(theme().soft);
    const QRectF below(area.left(), area.bottom() + 3, area.width(), 16);
    const auto text = [&](std::size_t sample) {
        return shown_words(time_text(static_cast<double>(sample) / bench_.sample_rate_hz(), 3));
    };
    draw_line(painter, below, Qt::AlignLeft | Qt::AlignVCenter, text(from));
    draw_line(painter, below, Qt::AlignHCenter | Qt::AlignVCenter, text((from + to) / 2));
    draw_line(painter, below, Qt::AlignRight | Qt::AlignVCenter, text(to));
}

// --- spectrogram ---

SpectrogramPage::SpectrogramPage(BenchWork& bench, QWidget* parent)
    : BenchPicture(bench, tr("Spectrogram"), parent) {}

void SpectrogramPage::refresh() {
    SpectrogramShape shape;
    const BenchStretch part = bench_.stretch();
    shape.to_hz = part.rate_hz / 2;
    shape.from_hz = std::min(20.0, shape.to_hz / 10);
    const std::size_t count = part.length();
    constexpr std::size_t usual = 4096, least = 64;
    shape.length = std::clamp(std::size_t(1) << static_cast<int>(
                                  std::log2(std::max<double>(static_cast<double>(count) / 8, 1))),
                              least, usual);
    work_.begin(
        [part, shape](const Watch& watch) {
            PerTrack<Spectrogram> made;
            for (std::size_t i = 0; i < made.size(); ++i) {
                made[i] = spectrogram_of(part.values(all_tracks[i]), part.rate_hz, shape, watch);
            }
            return made;
        },
        [this, part](PerTrack<Spectrogram> made) {
            made_ = std::move(made);
            top_db_ = -200;
            for (const Spectrogram& one : made_) {
                for (const float db : one.db) {
                    top_db_ = std::max(top_db_, db);
                }
            }
            show_made_of(part);
        });
}

// From the panel's colour to ink over 80 dB, the same for all.
void SpectrogramPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const auto shown = there();
    if (!begin_painting(painter) || shown.empty()) {
        return;
    }
    const double gap = 6;
    const double each =
        (height() - picture_top - picture_bottom + gap) / static_cast<double>(shown.size()) - gap;
    QRectF area(axis_width, picture_top, width() - axis_width - picture_right, each);
    for (const Track track : shown) {
        const Spectrogram& made = made_.at(index_of(track));
        paint_spectrogram(painter, area, axis_width, made, top_db_);
        paint_tag(painter, area.topLeft() + QPointF(4, 3), track);
        if (track == shown.back()) {
            paint_time_axis(painter, area);
        }
        area.translate(0, each + gap);
    }
}

// --- level over time ---

LevelTimePage::LevelTimePage(BenchWork& bench, QWidget* parent)
    : BenchPicture(bench, tr("Level over time"), parent) {}

void LevelTimePage::refresh() {
    const BenchStretch part = bench_.stretch();
    // 50 ms, or as short as gives 300 points of a short signal.
    constexpr double usual_s = 0.05, points = 300;
    const double count = static_cast<double>(part.length());
    stretch_s_ = std::min(usual_s, std::max(count / points, 1.0) / part.rate_hz);
    const auto samples =
        static_cast<std::size_t>(std::max(1.0, std::round(stretch_s_ * part.rate_hz)));
    work_.begin(
        [part, samples](const Watch&) {
            PerTrack<std::vector<double>> made;
            for (std::size_t i = 0; i < made.size(); ++i) {
                made[i] = level_over_time(part.values(all_tracks[i]), samples);
            }
            return made;
        },
        [this, part](PerTrack<std::vector<double>> made) {
            levels_ = std::move(made);
            show_made_of(part);
        });
}

void LevelTimePage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!begin_painting(painter)) {
        return;
    }
    const QRectF area(axis_width, picture_top, width() - axis_width - picture_right,
                      height() - picture_top - picture_bottom);
    double highest = -100;
    for (const auto& levels : levels_) {
        for (const double db : levels) {
            highest = std::max(highest, db);
        }
    }
    constexpr double step = 12, range_db = 84;
    const double high = std::ceil(highest / step) * step, low = high - range_db;
    const auto y_of = [&](double db) {
        return area.bottom() - (std::clamp(db, low, high) - low) / range_db * area.height();
    };
    std::vector<ScaleMark> marks;
    for (double db = low; db <= high; db += step) {
        marks.push_back({y_of(db), shown_number(db, 3)});
    }
    paint_scale(painter, area, marks);
    paint_lines(painter, area, [&](Track track) {
        const auto& levels = levels_.at(index_of(track));
        QPolygonF line;
        for (std::size_t i = 0; i < levels.size(); ++i) {
            const double along =
                (static_cast<double>(i) + 0.5) / static_cast<double>(levels.size());
            line << QPointF(area.left() + along * area.width(), y_of(levels[i]));
        }
        return line;
    });
    draw_line(painter, QRectF(area.left(), area.top() + 3, area.width() - 4, 15),
              Qt::AlignRight | Qt::AlignVCenter,
              tr("dBFS of every %1").arg(shown_words(time_text(stretch_s_))));
    paint_time_axis(painter, area);
}

// --- histogram ---

HistogramPage::HistogramPage(BenchWork& bench, QWidget* parent)
    : BenchPicture(bench, tr("Histogram"), parent) {}

void HistogramPage::refresh() {
    const BenchStretch part = bench_.stretch();
    constexpr std::size_t steps = 101; // an odd number: silence lies in one of them
    using Made = std::pair<double, PerTrack<std::vector<std::size_t>>>;
    work_.begin(
        [part](const Watch&) {
            Made made{0, {}};
            for (const Track track : all_tracks) {
                for (const double sample : part.values(track)) {
                    made.first = std::max(made.first, std::abs(sample));
                }
            }
            made.first = made.first > 0 && std::isfinite(made.first) ? made.first : 1;
            for (const Track track : all_tracks) {
                made.second.at(index_of(track)) =
                    histogram_of(part.values(track), made.first, steps);
            }
            return made;
        },
        [this, part](Made made) {
            peak_ = made.first;
            counts_ = std::move(made.second);
            show_made_of(part);
        });
}

// How often each value comes, on a logarithmic scale: of a full-scale tone the ends are highest, of
// noise the middle, and clipping stands up at the edge.
void HistogramPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!begin_painting(painter)) {
        return;
    }
    const QRectF area(axis_width, picture_top, width() - axis_width - picture_right,
                      height() - picture_top - picture_bottom);
    constexpr double decades = 5;
    std::vector<ScaleMark> marks;
    for (int decade = 0; decade <= static_cast<int>(decades); ++decade) {
        marks.push_back({area.top() + decade / decades * area.height(),
                         shown_number(100 * std::pow(10, -decade), 2) + tr(" %")});
    }
    paint_scale(painter, area, marks);
    paint_lines(painter, area, [&](Track track) {
        const auto& counts = counts_.at(index_of(track));
        double all = 0;
        for (const std::size_t count : counts) {
            all += static_cast<double>(count);
        }
        QPolygonF line;
        for (std::size_t i = 0; i < counts.size() && all > 0; ++i) {
            const double share = static_cast<double>(counts[i]) / all;
            const double fall = share > 0 ? std::min(-std::log10(share), decades) : decades;
            const double from = area.left()
                                + static_cast<double>(i) / static_cast<double>(counts.size())
                                      * area.width(),
                         to = from + area.width() / static_cast<double>(counts.size());
            const double y = area.top() + fall / decades * area.height();
            line << QPointF(from, y) << QPointF(to, y);
        }
        return line;
    });
    const QRectF below(area.left(), area.bottom() + 3, area.width(), 16);
    draw_line(painter, below, Qt::AlignLeft | Qt::AlignVCenter, shown_number(-peak_, 3));
    draw_line(painter, below, Qt::AlignHCenter | Qt::AlignVCenter, QStringLiteral("0"));
    draw_line(painter, below, Qt::AlignRight | Qt::AlignVCenter, shown_number(peak_, 3));
}

} // namespace syntonon
