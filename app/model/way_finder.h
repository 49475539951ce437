// The ways to the selected channel's goal, found beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/many_beside.h"
#include "app/model/session.h"
#include "core/study/ways/ways.h"

#include <QObject>
#include <memory>
#include <optional>
#include <vector>

namespace syntonon {

class WayFinder : public QObject {
    Q_OBJECT

public:
    explicit WayFinder(Session& session, QObject* parent = nullptr);

    struct Row {
        QString name;
        std::optional<Way> way; // nothing: it is not found yet
    };
    // In the order in which they are looked for.
    const std::vector<Row>& rows() const { return rows_; }
    std::size_t found() const { return work_.done(); }
    bool is_busy() const { return work_.is_busy(); }
    bool is_stopped() const { return is_stopped_; }
    // The goal, the channel or the sample rate is another one by now.
    bool is_outdated() const;
    bool is_of_this_channel() const;

    // Every FIR of that length, or each as short as it can be. Refused without a channel or goal.
    Expected<void> begin(std::optional<int> length);
    void stop(); // rows that were found stay

signals:
    void changed();

private:
    Session& session_;
    std::vector<Row> rows_;
    bool is_stopped_ = false;
    std::shared_ptr<const ResolvedGoal> goal_;
    std::string channel_;
    Axis axis_;
    ManyBeside work_{this};
};

} // namespace syntonon
