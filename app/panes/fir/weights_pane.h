// The weights of the selected FIR's errors: found by the program so that it fills its corridor.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "core/design/fir/hug_corridor.h"

#include <QWidget>
#include <memory>
#include <optional>

class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

// Each better round is a row, and seen on the lanes, while the search goes on beside the window;
// stopped, it leaves the best. What was found becomes the stage's weights, as one step.
class WeightsPane : public QWidget {
    Q_OBJECT

public:
    explicit WeightsPane(Session& session, QWidget* parent = nullptr);
    ~WeightsPane() override { stop_.stop(); }
    static bool is_there(const Session& session); // the selected stage is an FIR that weighs

    QPushButton* hug_button() const { return hug_; }
    QPushButton* clear_button() const { return clear_; }
    QPushButton* lane_button() const { return lane_; }
    QTableWidget* table() const { return table_; }
    QString words() const;
    bool is_busy() const { return work_.is_busy(); }

signals:
    void lane_wanted(); // the weights' lane

protected:
    void hideEvent(QHideEvent* event) override;

private:
    void refresh();
    void hug();
    void add_round(const HugRound& round);
    void end(const Expected<HugRound>& found);
    void give_up();
    void show_words(const QString& text);

    Session& session_;
    QPushButton *hug_, *clear_, *lane_;
    QLabel* words_;
    QTableWidget* table_;
    Watch stop_; // of the search under way: it ends with the best
    std::optional<FirSpec> begun_with_;
    std::shared_ptr<const ResolvedGoal> goal_; // whose corridor is being filled
    std::string stage_;
    Beside work_{this};
};

} // namespace syntonon
