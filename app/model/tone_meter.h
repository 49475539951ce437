// A tone at the plumb line, and what the chain makes of it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/latest_beside.h"
#include "core/filter/filter.h"

#include <QObject>
#include <QString>
#include <map>
#include <optional>

namespace syntonon {

class Session;

struct ToneReading {
    double hz = 0;
    double measured_db = 0;   // on the running chain
    double calculated_db = 0; // from its response
};

class ToneMeter : public QObject {
    Q_OBJECT

public:
    explicit ToneMeter(Session& session);

    // While it is on, the plumb line is the tone: pulling that along the lanes measures.
    bool is_on() const { return on_; }
    void switch_on(bool on);
    std::optional<ToneReading> now() const { return now_; }
    const QString& problem() const { return problem_; } // why there is no reading
    // Every frequency that was measured of this chain, by Hz.
    const std::map<double, ToneReading>& collected() const { return collected_; }
    void forget();
    // Measures so many frequencies from 20 Hz to nearly half the rate, in equal ratios.
    void sweep(int count);
    bool is_busy() const { return work_.is_busy(); }

signals:
    void changed();

private:
    void follow();
    void take(const Filter& chain, const Expected<ToneReading>& reading);

    Session& session_;
    bool on_ = false;
    std::optional<ToneReading> now_;
    QString problem_;
    std::map<double, ToneReading> collected_;
    std::optional<Filter> measured_; // that the collected ones are of
    LatestBeside work_{this};
    Beside sweeping_{this};
};

// What was played last, as a spectrum, to be laid over the magnitude lane.
class LiveSpectrum : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    bool is_wished() const { return wished_; }
    void wish(bool wished) {
        wished_ = wished;
        levels_.clear();
        emit changed();
    }
    // Level of a tone in dBFS by Hz.
    const std::map<double, double>& levels() const { return levels_; }
    void show(std::map<double, double> levels) {
        levels_ = std::move(levels);
        emit changed();
    }

signals:
    void changed();

private:
    bool wished_ = false;
    std::map<double, double> levels_;
};

} // namespace syntonon
