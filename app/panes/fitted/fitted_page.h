// The page that belongs to a recursive fit alone: what it follows, over what errors count, and what
// other orders would come to.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "app/model/so_far.h"
#include "core/fit/fit_recursive.h"

#include <QTimer>
#include <QWidget>
#include <memory>
#include <optional>
#include <string>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace syntonon {

class LimitTable;
class OwnTarget;
enum class OwnLine;
class OrderPlot;
class QuantityEdit;

class FittedPage : public QWidget {
    Q_OBJECT

public:
    explicit FittedPage(Session& session, QWidget* parent = nullptr);
    static bool is_there(const Session& session); // the selected stage is such a fit

    QComboBox* follows() const { return follows_; } // goal, own target, impulse response
    LimitTable* points(OwnLine line) const;         // of the latter
    QComboBox* axis() const { return axis_; }
    QuantityEdit* warping() const { return warping_; }
    QCheckBox* refits() const { return refits_; }
    QPushButton* try_orders() const { return try_; } // stops while they are being tried
    QPushButton* open() const { return open_; }      // the roots as a stage
    OrderPlot* plot() const { return plot_; }
    QString words() const;
    bool is_busy() const { return work_.is_busy(); }

private:
    void connect_choices();
    struct Choices {
        QStringList names;
        int chosen = 0; // -1: what is followed is no longer there
    };
    static std::vector<OwnLine> own_lines(const FittedSpec& spec);
    Choices choices(const FittedSpec& spec) const;
    void follow(int index);
    void show_choices(const FittedSpec& spec);
    void refresh();
    void press_try();
    void show_orders();
    void say(const QString& problem);

    Session& session_;
    QComboBox *follows_, *axis_;
    QuantityEdit* warping_;
    QLabel *warping_caption_, *axis_caption_ = nullptr;
    OwnTarget *level_, *phase_, *delay_;
    QCheckBox* refits_;
    QPushButton *try_, *open_;
    OrderPlot* plot_;
    QLabel* words_;

    // Of which stage with which settings the errors are; they go when those change.
    struct Tried {
        std::string channel, stage;
        FittedSpec spec; // its order aside
        std::vector<OrderError> errors;
    };
    std::optional<Tried> tried_;
    std::shared_ptr<SoFar<std::vector<OrderError>>> so_far_;
    QTimer showing_;
    Beside work_{this};
};

} // namespace syntonon
