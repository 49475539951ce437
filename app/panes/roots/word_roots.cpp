// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/roots/word_roots.h"

#include "app/widgets/words.h"
#include "core/base/named_value.h"
#include "core/study/words.h"
#include "core/word/pole_grid.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::size_t most_tried = 60'000;
constexpr double least_room = 12; // square pixels a dot

// What of the upper half-plane is seen in the room, mirrored or not.
PlaneBox box_of(const PlaneView& view, const QRect& room) {
    const auto first = view.value_at(room.topLeft()), last = view.value_at(room.bottomRight());
    const double low = std::min(first.imag(), last.imag());
    const double high = std::max(first.imag(), last.imag());
    return {first.real(), last.real(), low > 0 ? low : high < 0 ? -high : 0, std::max(high, -low)};
}

PlaneBox within_circle(PlaneBox box) {
    return {std::max(box.left, -1.0), std::min(box.right, 1.0), std::min(box.bottom, 1.0),
            std::min(box.top, 1.0)};
}

const WordsAnalysis* words_in(const Session& session) {
    const auto analysis = session.analysis();
    return analysis != nullptr && analysis->words != nullptr && !analysis->words->problem
               ? analysis->words.get()
               : nullptr;
}

} // namespace

void WordRoots::paint_grid(QPainter& painter, const Session& session, const PlaneView& view,
                           const QRect& room) {
    const Delivery* delivery = delivery_of(session.study(), session.words_view());
    const auto format = delivery != nullptr && words_in(session) != nullptr && !view.is_analog
                            ? word_format(session.study(), *delivery)
                            : refuse("", "as designed");
    if (!format) {
        words_.clear();
        dots_ = 0;
        drawn_.reset();
        return;
    }
    const Grid wanted{*format, view, room, theme().name};
    if (!drawn_ || !(*drawn_ == wanted)) {
        draw(wanted, painter.device()->devicePixelRatioF());
        drawn_ = wanted;
    }
    if (dots_ > 0) {
        painter.drawPixmap(room.topLeft(), picture_);
    }
}

struct WordRoots::Dots {
    std::vector<std::complex<double>> poles;
    bool is_shown = false; // far enough apart
};

WordRoots::Dots WordRoots::dots_in(const WordFormat& format, const PlaneView& view,
                                   const QRect& room) {
    const PlaneBox box = within_circle(box_of(view, room));
    auto poles = possible_poles(format, box, most_tried);
    if (!poles) {
        return {};
    }
    const double pixels =
        (box.right - box.left) * (box.top - box.bottom) / (view.per_pixel() * view.per_pixel());
    const bool is_shown =
        static_cast<double>(poles->size()) * least_room < std::max(pixels, 1000.0);
    return {std::move(*poles), is_shown};
}

bool WordRoots::has_room(const WordFormat& format, const PlaneView& view, const QRect& room) {
    return dots_in(format, view, room).is_shown;
}

void WordRoots::draw(const Grid& grid, double pixel_ratio) {
    const auto [poles, is_shown] = dots_in(grid.format, grid.view, grid.room);
    const QString what =
        tr("%1 in %2")
            .arg(QString::fromStdString(text_of(coefficient_values(grid.format.sections))),
                 text_of(named(structures(), grid.format.structure).title));
    words_ = is_shown ? tr("Filled: as %1. Dots: where its poles can lie").arg(what)
                      : tr("Filled: as %1. Magnify (wheel) for where its poles can lie").arg(what);
    dots_ = is_shown ? poles.size() : 0;
    picture_ = QPixmap();
    if (dots_ == 0) {
        return;
    }
    picture_ = QPixmap(grid.room.size() * pixel_ratio);
    picture_.setDevicePixelRatio(pixel_ratio);
    picture_.fill(Qt::transparent);
    QPainter painter(&picture_);
    painter.translate(-grid.room.topLeft());
    painter.setRenderHint(QPainter::Antialiasing, true);
    for (const std::complex<double>& pole : poles) {
        for (const auto& each : {pole, std::conj(pole)}) {
            const QPointF at = grid.view.at(each);
            painter.fillRect(QRectF(at.x() - 0.75, at.y() - 0.75, 1.5, 1.5), theme().measured);
        }
    }
}

void WordRoots::paint_roots(QPainter& painter, const Session& session, const PlaneView& view) {
    const WordsAnalysis* words = words_in(session);
    if (words == nullptr || view.is_analog || !words->chain.has_roots_at_hand()
        || !words->chain.roots()) {
        return;
    }
    constexpr double half = 2.2;
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().text);
    const Roots& roots = *words->chain.roots();
    for (const std::complex<double>& zero : roots.zeros) {
        painter.drawEllipse(view.at(zero), half, half);
    }
    for (const std::complex<double>& pole : roots.poles) {
        painter.fillRect(QRectF(view.at(pole) - QPointF(half, half), QSizeF(2 * half, 2 * half)),
                         theme().text);
    }
    painter.setBrush(Qt::NoBrush);
}

} // namespace syntonon
