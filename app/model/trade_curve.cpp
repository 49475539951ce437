// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/trade_curve.h"

#include "app/model/fir_commands.h"
#include "app/model/selected_fir.h"

#include <algorithm>

namespace syntonon {
namespace {

Brief brief_of_selected(const Session& session) {
    const StageAnalysis* stage = session.stage_analysis();
    return stage != nullptr && stage->brief != nullptr ? *stage->brief : brief_at(session.axis());
}

QString name_of_step(TradeOf of) {
    return of == TradeOf::delay        ? QObject::tr("Take another delay")
           : of == TradeOf::transition ? QObject::tr("Take another transition width")
                                       : QObject::tr("Take another length");
}

} // namespace

TradeCurve::TradeCurve(Session& session, QObject* parent) : QObject(parent), session_(session) {
    constexpr int rest_ms = 300;
    rest_.setSingleShot(true);
    rest_.setInterval(rest_ms);
    connect(&rest_, &QTimer::timeout, this, &TradeCurve::begin);
    connect(&session_, &Session::analysis_changed, this, &TradeCurve::follow);
    connect(&session_, &Session::selection_changed, this, &TradeCurve::follow);
}

void TradeCurve::watch(bool watched) {
    is_watched_ = watched;
    if (watched) {
        follow();
    } else {
        stop();
        begun_with_.reset(); // looked at again, it is found again
    }
}

void TradeCurve::choose(TradeOf of) {
    if (of_ != of) {
        of_ = of;
        begin();
    }
}

bool TradeCurve::is_about_selected() const {
    const FirSpec* spec = selected_fir(session_);
    if (spec == nullptr || !begun_with_ || stage_ != session_.selection().stage
        || !is_same(brief_, brief_of_selected(session_))) {
        return false;
    }
    return *spec == *begun_with_ || std::ranges::any_of(points_, [&](const auto& point) {
        return point && point->spec == *spec;
    });
}

void TradeCurve::follow() {
    const StageAnalysis* stage = session_.stage_analysis();
    if (!is_watched_ || selected_fir(session_) == nullptr || stage == nullptr
        || stage->is_waiting) {
        return;
    }
    if (!is_about_selected()) {
        rest_.start();
    }
    show_present();
    emit changed();
}

void TradeCurve::show_present() {
    const FirSpec* spec = selected_fir(session_);
    const StageAnalysis* stage = session_.stage_analysis();
    present_ = trade_ != nullptr && spec != nullptr && stage != nullptr && stage->filter
                   ? trade_->measured(*spec, *stage->filter)
                   : std::nullopt;
}

void TradeCurve::begin() {
    rest_.stop();
    each_.stop();
    trade_.reset();
    points_.clear();
    present_.reset();
    problem_.clear();
    is_stopped_ = false;
    const FirSpec* spec = selected_fir(session_);
    if (spec == nullptr || !is_watched_) {
        return;
    }
    begun_with_ = *spec;
    brief_ = brief_of_selected(session_);
    stage_ = session_.selection().stage;
    about_.begin([spec = *spec, brief = brief_,
                  of = of_](const Watch& watch) { return FirTrade::about(spec, brief, of, watch); },
                 [this](const Expected<FirTrade>& trade) {
                     if (!trade) {
                         problem_ = QString::fromStdString(to_text(trade.error()));
                         emit changed();
                         return;
                     }
                     trade_ = std::make_shared<const FirTrade>(*trade);
                     points_.resize(trade_->size());
                     show_present();
                     each_.begin(
                         points_.size(),
                         [trade = trade_](std::size_t i, const Watch& watch) {
                             return trade->point(i, watch);
                         },
                         [this](std::size_t i, TradePoint point) {
                             points_.at(i) = std::move(point);
                             emit changed();
                         });
                     emit changed();
                 });
    emit changed();
}

void TradeCurve::stop() {
    is_stopped_ = is_busy();
    rest_.stop();
    about_.stop();
    each_.stop();
    emit changed();
}

void TradeCurve::take(std::size_t point) {
    if (point >= points_.size() || !points_[point] || !points_[point]->why.empty()
        || selected_fir(session_) == nullptr || stage_ != session_.selection().stage) {
        return;
    }
    edit_fir(session_, name_of_step(of_),
             [made = points_[point]->spec](StageSpec& spec) { spec = made; });
}

} // namespace syntonon
