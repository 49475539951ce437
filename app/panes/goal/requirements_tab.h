// The requirements: which there are, how they stand, and the chosen one's fields.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/goal/goal_tab.h"

#include <string>

class QGridLayout;
class QPushButton;

namespace syntonon {

class QuantityEdit;

class RequirementsTab : public GoalTab {
    Q_OBJECT

public:
    explicit RequirementsTab(Session& session);
    void refresh(const Goal* goal) override;

    QTableWidget* table() const { return table_; }
    QPushButton* add_button() const { return add_; }
    QuantityEdit* field(const QString& key) const; // of the chosen requirement, or null
    void choose(int row);

private:
    void show_form(const Goal* goal);
    void show_values(const Goal& goal);
    void build_form(const RequirementSpec& spec);
    void add_channels(QGridLayout& grid, int row);
    void take_channel(const std::string& id, bool on);
    void show_channels(const Requirement& requirement);
    // Changes the chosen requirement's field `key`.
    void take(const QString& key, std::optional<double> value);
    void take_unit(const QString& key, TimeUnit unit);
    template <class Change>
    void change(Change apply);

    QTableWidget* table_;
    QPushButton *add_, *remove_;
    QWidget* form_;
    std::size_t form_kind_ = std::variant_npos; // the variant's index that the form is for
    int form_row_ = -1;
};

} // namespace syntonon
