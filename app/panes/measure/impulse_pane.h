// The impulse response of the curve in hand, what of it counts, and when it arrives.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/base/problem.h"

#include <QWidget>
#include <array>
#include <optional>

class QLabel;
class QToolButton;

namespace syntonon {

class ImpulsePlot;
class QuantityEdit;

class ImpulsePane : public QWidget {
    Q_OBJECT

public:
    explicit ImpulsePane(Session& session, QWidget* parent = nullptr);

    ImpulsePlot* plot() const { return plot_; }
    QToolButton* gate_button() const { return gate_; }
    QToolButton* form_button() const { return form_; }
    QuantityEdit* time_edit(int which) const { return times_.at(static_cast<std::size_t>(which)); }
    QuantityEdit* cycles_edit() const { return cycles_; }
    QuantityEdit* arrival_edit() const { return arrival_; }
    QString said() const; // below the plot
    void fill();          // now; else when it is looked at

    // The curve in hand, else the first of the channel's positions that has an impulse response.
    const Curve* curve() const;

protected:
    void showEvent(QShowEvent* event) override;

private:
    void follow();
    void follow_edits();
    void refresh();
    void fill_gate_menu();
    void show_times(const NamedGate* gate, const Curve* curve);
    void say(const Curve* curve, const NamedGate* gate);
    void take_gate(const Gate& gate);
    void take(const Expected<void>& done);
    std::vector<std::string> curves_for_gate() const;
    std::vector<std::string> looked_at(const Curve& chosen) const;

    Session& session_;
    ImpulsePlot* plot_;
    QToolButton *gate_, *form_;
    QLabel *title_, *said_;
    std::array<QuantityEdit*, 4> times_{};
    QuantityEdit *cycles_, *arrival_;
    QString gesture_;     // of a drag
    std::string dragged_; // its gate
    std::optional<Problem> problem_;
    struct Seen {
        std::vector<SharedValue<Curve>> curves;
        std::vector<NamedGate> gates;
        std::string curve;
        bool operator==(const Seen& other) const;
    };
    std::optional<Seen> seen_;
};

} // namespace syntonon
