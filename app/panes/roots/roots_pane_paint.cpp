// What the roots pane draws.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/last_stable.h"
#include "app/panes/roots/roots_pane.h"
#include "app/plot/lane_view.h"
#include "app/plot/root_mark.h"
#include "app/widgets/line_text.h"
#include "app/widgets/shown_number.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr int row_height = 18, shown_shares = 5, top_room = 24;
constexpr double well_known = 1e-8; // of a root
constexpr std::size_t drawn_lines = 6;

bool is_unstable(const PlaneRoot& root, bool analog) {
    return root.ref.place.is_pole && (analog ? root.value.real() >= 0 : std::abs(root.value) >= 1);
}

} // namespace

double RootsPane::distance_shown() const {
    double farthest = 0;
    for (const PlaneRoot& root : roots()) {
        farthest = std::max(farthest, std::abs(root.value));
    }
    // A round frequency, so that it seldom changes while something is dragged.
    return farthest > 0 ? rad_per_s_from_hz(round_step(hz_from_rad_per_s(farthest) * 1.02))
                        : analog_unit_rad_per_s;
}

void RootsPane::layout_plane() {
    view_.is_analog = session_.axis().is_analog();
    if (!drag_ || !view_.is_analog) { // the plane stays while a root is dragged over it
        view_.unit = view_.is_analog ? distance_shown() : 1;
    }
    const int shares_height = row_height * (shown_shares + 1) + 10;
    shares_top_ = height() - shares_height;
    constexpr double foot_room = 24; // for the words on what is in hand
    const double whole =
        std::max(40.0, std::min(width() / 2.0 - 60, (shares_top_ - top_room - foot_room) / 2.0));
    view_.radius = whole * magnification_;
    const double right = view_.is_analog ? whole / 2 : 0; // the left half is what is full
    view_.centre =
        QPointF(std::round(width() / 2.0 + right), std::round(top_room + whole)) + shift_;
}

void RootsPane::paint_roots(QPainter& painter, bool of_selected_stage) const {
    for (const PlaneRoot& root : roots()) {
        if ((root.ref.stage == session_.selection().stage) != of_selected_stage) {
            continue;
        }
        // Outside the circle and out of the pane's reach: still seen, at the edge.
        const bool whole = magnification_ == 1;
        const QPointF place = view_.at(root.value);
        const QPointF at = whole ? QPointF(std::clamp(place.x(), 6.0, width() - 6.0),
                                           std::clamp(place.y(), top_room + 2.0, shares_top_ - 6.0))
                                 : place;
        draw_root_mark(painter, at,
                       {root.ref.place.is_pole, of_selected_stage,
                        is_unstable(root, view_.is_analog),
                        session_.roots_in_hand().holds(root.ref), root.count});
    }
}

// Where mirrored roots were, for a moment.
void RootsPane::paint_before(QPainter& painter) const {
    painter.setPen(QPen(theme().plum, 1, Qt::DotLine));
    painter.setBrush(Qt::NoBrush);
    for (const PlaneRoot& root : before_) {
        draw_root_shape(painter, view_.at(root.value), root.ref.place.is_pole);
    }
}

void RootsPane::draw_z_plane(QPainter& painter) const {
    const QPointF centre = view_.centre;
    const double radius = view_.radius;
    painter.setPen(theme().grid);
    painter.drawLine(QPointF(std::max(0.0, centre.x() - radius - 18), centre.y()),
                     QPointF(std::min<double>(width(), centre.x() + radius + 18), centre.y()));
    painter.drawLine(QPointF(centre.x(), std::max(0.0, centre.y() - radius - 8)),
                     QPointF(centre.x(), std::min<double>(height(), centre.y() + radius + 8)));
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(
        QPen(look_.shows_any() ? theme().text : theme().soft, look_.shows_any() ? 1.5 : 1));
    constexpr double too_large = 20000; // for the painter's own numbers
    if (radius < too_large) {
        painter.drawEllipse(centre, radius, radius);
        return;
    }
    // The part of the circle around what is seen.
    const double seen = std::hypot(width(), height());
    const Complex middle = view_.value_at(QPointF(width() / 2.0, shares_top_ / 2.0));
    if (std::abs(std::abs(middle) - 1) * radius > seen) {
        return;
    }
    QPolygonF arc;
    constexpr int steps = 64;
    for (int i = -steps; i <= steps; ++i) {
        arc << view_.at(std::polar(1.0, std::arg(middle) + i * seen / radius / steps));
    }
    painter.drawPolyline(arc);
}

// The imaginary axis, which is the frequencies; arcs of equal natural frequency in the stable half.
void RootsPane::draw_s_plane(QPainter& painter) const {
    const Theme& t = theme();
    const QPointF centre = view_.centre;
    painter.setClipRect(QRect(0, 0, width(), shares_top_ - 2));
    if (!look_.shows_any()) {
        painter.fillRect(QRectF(centre.x(), 0, width() - centre.x(), shares_top_), t.ground);
    }
    painter.setPen(t.grid);
    painter.drawLine(QPointF(0, centre.y()), QPointF(width(), centre.y()));
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setFont(text_font(10));
    for (const double part : {0.5, 1.0}) {
        const double r = view_.radius * part;
        painter.setPen(QPen(t.grid, 1));
        painter.drawArc(QRectF(centre.x() - r, centre.y() - r, 2 * r, 2 * r), 90 * 16, 180 * 16);
        painter.setPen(t.soft);
        const QString label =
            QString::fromStdString(frequency_text(hz_from_rad_per_s(view_.unit * part)));
        painter.drawText(QPointF(centre.x() + 6, centre.y() - r + 10), "j " + label);
        painter.drawText(QPointF(centre.x() + 6, centre.y() + r - 2), "−j " + label);
    }
    painter.setPen(QPen(look_.shows_any() ? t.text : t.soft, look_.shows_any() ? 1.5 : 1));
    painter.drawLine(QPointF(centre.x(), 0), QPointF(centre.x(), shares_top_));
    painter.setClipping(false);
}

// Of the chain, or the selected stage; drawn anew when that, the place or the look is another one.
void RootsPane::paint_relief(QPainter& painter) {
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        return;
    }
    const StageAnalysis* stage = session_.stage_analysis();
    const bool of_stage = shown_ == RootsShown::selected_stage && stage != nullptr && stage->filter;
    const Filter& filter = of_stage ? *stage->filter : analysis->chain;
    if (!filter.has_roots_at_hand() || !filter.roots()) {
        return; // or not yet
    }
    constexpr int coarse = 4;
    const int step = is_coarse_ ? coarse : 1;
    const QRect room(0, top_room, width(), shares_top_ - top_room - 2);
    Relief wanted{{}, filter, view_, look_, room.size(), step, theme().name};
    wanted.view.centre -= room.topLeft();
    if (!relief_ || !relief_->is_like(wanted)) {
        wanted.picture = relief_picture(*filter.roots(), wanted.view, room.size(), look_, step);
        relief_ = std::move(wanted);
    }
    painter.drawImage(QRect(room.topLeft(), relief_->picture.size() * step), relief_->picture);
}

// The level on the circle, standing off it: what the magnitude lane draws.
void RootsPane::paint_cut(QPainter& painter) const {
    const auto analysis = session_.analysis();
    if (analysis == nullptr || view_.is_analog) {
        return;
    }
    constexpr double pixels_per_db = 1.2, most_db = 40;
    QPolygonF line;
    const auto& trace = analysis->total;
    for (std::size_t i = 0; i < trace.frequency_hz.size(); ++i) {
        const double db = std::clamp(trace.response.magnitude_db[i], -most_db, most_db);
        const double w = session_.axis().rad_per_sample(trace.frequency_hz[i]);
        const double r = view_.radius + pixels_per_db * db;
        line << view_.centre + QPointF(std::cos(w), -std::sin(w)) * r;
    }
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().ink, 1));
    painter.drawPolyline(line);
    for (QPointF& point : line) {
        point.setY(2 * view_.centre.y() - point.y());
    }
    painter.drawPolyline(line);
}

const QPixmap& RootsPane::still_picture() {
    Still wanted;
    wanted.size = size();
    wanted.theme = theme().name;
    wanted.selected = session_.selection().stage;
    wanted.view = view_;
    wanted.shown = shown_;
    wanted.on_relief = look_.shows_any();
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    for (std::size_t i = 0; analysis != nullptr && i < channel->stages.size(); ++i) {
        const Stage& stage = *channel->stages[i];
        const bool drawn = stage.id != wanted.selected && stage.enabled;
        wanted.stages.push_back(drawn ? analysis->stages.at(stage.id) : nullptr);
    }
    if (!still_.picture.isNull() && still_ == wanted) {
        return still_.picture;
    }
    wanted.picture = QPixmap(size() * devicePixelRatioF());
    wanted.picture.setDevicePixelRatio(devicePixelRatioF());
    wanted.picture.fill(wanted.on_relief ? QColor(Qt::transparent) : theme().panel);
    QPainter painter(&wanted.picture);
    if (view_.is_analog) {
        draw_s_plane(painter);
    } else {
        draw_z_plane(painter);
    }
    paint_roots(painter, false);
    painter.end();
    still_ = std::move(wanted);
    return still_.picture;
}

// The marker, and lines to the roots that are nearest: whole where they lift, dashed where they
// lower.
void RootsPane::paint_plumb(QPainter& painter) const {
    const Theme& t = theme();
    const auto hz = session_.plumb().hz();
    const auto analysis = session_.analysis();
    if (!hz || analysis == nullptr) {
        return;
    }
    const Complex here = view_.is_analog ? Complex(0, rad_per_s_from_hz(*hz))
                                         : std::polar(1.0, session_.axis().rad_per_sample(*hz));
    QPointF at = view_.at(here);
    std::vector<RootShare> shares = shares_;
    std::ranges::stable_sort(shares, {},
                             [&](const RootShare& s) { return std::abs(s.value - here); });
    for (std::size_t i = 0; i < std::min(shares.size(), drawn_lines); ++i) {
        painter.setPen(QPen(t.soft, 1, shares[i].db >= 0 ? Qt::SolidLine : Qt::DashLine));
        painter.drawLine(at, view_.at(shares[i].value));
    }
    at.setY(std::max(at.y(), top_room + 6.0)); // beyond the pane: at its edge
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.text);
    painter.drawEllipse(at, 4, 4);
    painter.setPen(t.text);
    painter.setFont(text_font(11));
    const QString label = QString::fromStdString(frequency_text(*hz, 4));
    const int label_width = painter.fontMetrics().horizontalAdvance(label);
    const double x = at.x() + 8 + label_width > width() ? at.x() - 8 - label_width : at.x() + 8;
    painter.drawText(QPointF(x, std::max(at.y() - 4, top_room + 12.0)), label);
}

QString RootsPane::in_hand_words() const {
    const auto& held = session_.roots_in_hand().roots();
    const QString holding = (holds_radius_  ? tr(" · radius held")
                             : holds_angle_ ? tr(" · angle held")
                                            : QString())
                            + (keeps_level_ ? tr(" · level kept") : QString());
    if (held.size() > 1) {
        return tr("%1 roots in hand").arg(held.size()) + holding;
    }
    const auto value = held.empty() ? std::nullopt : value_of(session_, *held.begin());
    if (!value) {
        return holding.isEmpty() ? QString() : holding.mid(3);
    }
    const Axis axis = session_.axis();
    const double decay = number_of(*value, RootNumber::decay_s, axis);
    const double growth = growth_db_per_s(*value, axis);
    QString words = name_of_root(*value, held.begin()->place.is_pole, axis);
    if (!axis.is_analog()) {
        words += tr(" · radius %1").arg(std::abs(*value), 0, 'f', 5);
    }
    if (std::isfinite(decay) && decay > 0) {
        words += tr(" · −60 dB in %1").arg(QString::fromStdString(time_text(decay)));
    } else if (held.begin()->place.is_pole && growth > 0) {
        words += tr(" · grows %1 dB/s").arg(shown_number(growth, 3));
    }
    return words + holding;
}

void RootsPane::paint_words(QPainter& painter) const {
    const Theme& t = theme();
    const auto line = [&](double y, const QString& words, const QColor& colour, bool bold = false) {
        painter.setFont(text_font(bold ? 12 : 11, bold ? QFont::DemiBold : QFont::Normal));
        painter.setPen(colour);
        const QRectF room(8, y, width() - 16, 16);
        const QString text = elided_line(painter.font(), words, room.width());
        const double half = line_width(painter.font(), text) / 2 + 4, middle = room.center().x();
        painter.fillRect(QRectF(middle - half, y, 2 * half, room.height()), t.panel);
        draw_line(painter, room, Qt::AlignCenter, text);
    };
    const auto analysis = session_.analysis();
    const double foot = shares_top_ - 20.0;
    if (!problem_.isEmpty()) {
        line(foot, problem_, t.not_met);
    } else if (const QString words = in_hand_words(); !words.isEmpty()) {
        line(foot, words, t.copper);
    }
    if (analysis != nullptr && !analysis->chain.is_stable()) {
        const QString growth = growth_words(analysis->chain, session_.axis());
        line(top_room + 2, growth.isEmpty() ? tr("◇ unstable") : tr("◇ unstable: %1").arg(growth),
             t.not_met, true);
        line(top_room + 18,
             tr("I: reflect inside · Shift+Backspace: back to the last stable place"), t.not_met);
    }
    if (analysis != nullptr && !analysis->waits_for.empty()) {
        line(view_.centre.y() + 20,
             tr("the last good roots: “%1” is being designed")
                 .arg(QString::fromStdString(analysis->waits_for)),
             t.soft);
    }
    const QStringList missing = missing_roots().split('\n');
    for (int i = 0; i < missing.size() && !missing[0].isEmpty(); ++i) {
        line(view_.centre.y() - 60 + 16 * i, missing[i], t.soft);
    }
    if (const QString as_words = word_roots_.words();
        !as_words.isEmpty() && problem_.isEmpty() && in_hand_words().isEmpty()) {
        line(foot, as_words, t.soft);
    }
    if (magnification_ > 1) {
        painter.setFont(text_font(11));
        painter.setPen(t.soft);
        painter.drawText(QRect(16, 4, width() - 32, 16), Qt::AlignRight | Qt::AlignVCenter,
                         tr("× %1 shown")
                             .arg(magnification_, 0, magnification_ < 100 ? 'g' : 'f',
                                  magnification_ < 100 ? 3 : 0));
    }
}

void RootsPane::paint_plane(QPainter& painter) {
    const Theme& t = theme();
    if (look_.shows_any()) {
        painter.fillRect(rect(), t.panel);
    }
    if (look_.shade || look_.contours || look_.phase_lines) {
        paint_relief(painter);
    }
    painter.drawPixmap(0, 0, still_picture());
    if (look_.cut) {
        paint_cut(painter);
    }
    const QRect room(0, 0, width(), shares_top_ - 2);
    painter.setClipRect(room);
    word_roots_.paint_grid(painter, session_, view_, room.adjusted(0, top_room, 0, 0));
    painter.setRenderHint(QPainter::Antialiasing, true);
    paint_plumb(painter);
    paint_before(painter);
    paint_roots(painter, true);
    WordRoots::paint_roots(painter, session_, view_);
    if (frame_from_) {
        painter.setPen(QPen(t.copper, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(*frame_from_, frame_to_).normalized());
    }
    paint_words(painter);
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setClipping(false);
    if (hasFocus()) {
        painter.setPen(QPen(t.copper, 1, Qt::DotLine));
        painter.drawRect(2, 2, width() - 5, shares_top_ - 6);
    }
}

QString RootsPane::missing_roots() const {
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        return {};
    }
    for (const Stage* stage : stages_that_count(session_.channel()->stages)) {
        const StageAnalysis* designed = analysis->stage(stage->id);
        if (designed == nullptr || !designed->filter) {
            continue;
        }
        const QString title = QString::fromStdString(title_of(*stage));
        if (!designed->filter->has_roots_at_hand()) {
            continue; // they are being found; those of before stand for them
        }
        const auto& roots = designed->filter->roots();
        if (!roots) {
            return tr("Not shown: roots of “%1”.\n%2")
                .arg(title, QString::fromStdString(roots.error().reason));
        }
        if (roots->uncertainty > well_known * view_.unit) {
            return tr("Roots of “%1” lie so close together\nthat they are known to ±%2 only")
                .arg(title)
                .arg(roots->uncertainty, 0, 'g', 1);
        }
    }
    return {};
}

void RootsPane::paint_shares(QPainter& painter) {
    const Theme& t = theme();
    painter.fillRect(QRect(0, shares_top_ - 2, width(), height() - shares_top_ + 2), t.panel);
    const auto hz = session_.plumb().hz();
    const auto analysis = session_.analysis();
    QRect row(16, shares_top_, width() - 32, row_height);
    painter.setFont(text_font(11));
    if (!hz || analysis == nullptr) {
        painter.setPen(t.soft);
        draw_line(painter, row, Qt::AlignLeft | Qt::AlignVCenter,
                  tr("Let the plumb line down to see each root's share."));
        return;
    }
    painter.setFont(text_font(11, QFont::DemiBold));
    painter.setPen(t.text);
    draw_line(painter, row, Qt::AlignLeft | Qt::AlignVCenter,
              tr("Who lifts, lowers and turns at the plumb line"));
    painter.setFont(text_font(11));
    const auto& shares = shares_;
    double largest = 6;
    for (const RootShare& share : shares) {
        largest = std::isfinite(share.db) ? std::max(largest, std::abs(share.db)) : largest;
    }
    constexpr int level_at = 108, phase_at = 180, bars_at = 246;
    const int bars_left = row.left() + bars_at, bars_width = std::max(40, row.width() - bars_at),
              middle = bars_left + bars_width / 2;
    for (std::size_t i = 0; i < shares.size() && i < shown_shares; ++i) {
        row.translate(0, row_height);
        const RootShare& share = shares[i];
        const bool selected = share.stage == session_.selection().stage;
        painter.setPen(selected ? t.copper : t.soft);
        draw_line(painter, row, Qt::AlignLeft | Qt::AlignVCenter,
                  name_of_root(share.value, share.is_pole, session_.axis()));
        painter.setPen(t.text);
        draw_line(painter, QRect(row.left() + level_at, row.top(), 72, row_height),
                  Qt::AlignRight | Qt::AlignVCenter,
                  std::isfinite(share.db) ? QString::fromStdString(signed_text(share.db, 1)) + " dB"
                                          : QStringLiteral("−∞ dB"));
        draw_line(painter, QRect(row.left() + phase_at, row.top(), 58, row_height),
                  Qt::AlignRight | Qt::AlignVCenter,
                  QString::fromStdString(signed_text(share.deg, 0)) + "°");
        const double part = std::clamp(share.db / largest, -1.0, 1.0) * bars_width / 2;
        painter.fillRect(
            QRectF(std::min<double>(middle, middle + part), row.top() + 5, std::abs(part), 8),
            selected ? t.copper : t.ink);
    }
    painter.setPen(t.hairline);
    painter.drawLine(middle, shares_top_ + row_height, middle, row.bottom());
}

void RootsPane::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    layout_plane();
    const auto hz = session_.plumb().hz();
    const auto analysis = session_.analysis();
    shares_ = hz && analysis != nullptr ? root_shares(session_, *hz) : std::vector<RootShare>();
    paint_plane(painter);
    paint_shares(painter);
}

} // namespace syntonon
