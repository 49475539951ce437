// One recipe for many channels: the selected correction's settings fitted for all that are ticked.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "app/model/so_far.h"
#include "core/study/fit_stages.h"

#include <QTimer>
#include <QWidget>
#include <map>
#include <memory>
#include <string>
#include <vector>

class QCheckBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

class FitChannelsPane : public QWidget {
    Q_OBJECT

public:
    explicit FitChannelsPane(Session& session, QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; }
    QCheckBox* align() const { return align_; }
    QPushButton* fit() const { return fit_; } // stops while it is being fitted
    QString words() const;
    bool is_busy() const { return work_.is_busy(); }

protected:
    void showEvent(QShowEvent* event) override;

private:
    struct Made;
    void refresh();
    void tell_state();
    std::vector<std::string> ticked() const; // ids
    void press();
    void begin();
    void take(const Study& from, const Expected<Made>& made);
    static Expected<Made> fit_all(const WithRecipe& recipe,
                                  const std::vector<std::string>& to_align, SoFar<Made>& so_far,
                                  const Watch& watch);

    Session& session_;
    QTableWidget* table_;
    QCheckBox* align_;
    QPushButton* fit_;
    QLabel* words_;
    QString refused_;
    std::map<std::string, bool, std::less<>> unticked_;      // channels by id
    std::map<std::string, FitFigures, std::less<>> figures_; // of the last run, by channel
    Study from_;                                             // what is being fitted
    std::shared_ptr<SoFar<Made>> so_far_;
    QTimer showing_;
    Beside work_{this};
};

} // namespace syntonon
