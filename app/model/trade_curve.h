// What the selected FIR would gain by another length or delay: found beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/many_beside.h"
#include "app/model/session.h"
#include "core/design/fir/trade.h"

#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

class TradeCurve : public QObject {
    Q_OBJECT

public:
    explicit TradeCurve(Session& session, QObject* parent = nullptr);

    // Nobody looks: nothing is found.
    void watch(bool watched);
    void choose(TradeOf of);
    TradeOf of() const { return of_; }

    // By ascending length or delay; nothing: not found yet.
    const std::vector<std::optional<TradePoint>>& points() const { return points_; }
    // Of the selected stage as it is now.
    const std::optional<TradePoint>& present() const { return present_; }
    bool is_busy() const { return about_.is_busy() || each_.is_busy() || rest_.isActive(); }
    bool is_stopped() const { return is_stopped_; }
    std::size_t done() const { return each_.done(); }
    const QString& problem() const { return problem_; } // why there is no curve
    void stop();                                        // points that were found stay
    void begin();

    // The point's filter in the selected stage's place.
    void take(std::size_t point);

signals:
    void changed();

private:
    void follow();
    bool is_about_selected() const;
    void show_present();

    Session& session_;
    TradeOf of_ = TradeOf::attenuation;
    bool is_watched_ = false, is_stopped_ = false;
    std::shared_ptr<const FirTrade> trade_;
    std::optional<FirSpec> begun_with_;
    Brief brief_;
    std::string stage_;
    std::vector<std::optional<TradePoint>> points_;
    std::optional<TradePoint> present_;
    QString problem_;
    QTimer rest_; // a hand that moves something is let come to rest first
    Beside about_{this};
    ManyBeside each_{this};
};

} // namespace syntonon
