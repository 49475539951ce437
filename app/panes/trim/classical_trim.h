// The panel of classical filters: fields in one row, all that is chosen once in a line below.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"
#include "core/study/kinds.h"

class QAction;
class QComboBox;
class QLabel;
class QToolButton;

namespace syntonon {

class ClassicalTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit ClassicalTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    bool needs_all_room() const override { return true; }

    QComboBox* family() const { return family_; }
    QComboBox* band() const { return band_; }
    QComboBox* stated_by() const { return stated_by_; }
    QLabel* order_found() const { return order_found_; }
    QToolButton* better() const { return better_; }
    QToolButton* mapping() const { return mapping_; }
    QToolButton* sections() const { return sections_; }
    QToolButton* goal() const { return goal_; }
    QString problem() const;

    // The fields' numbers from the goal, and requirements from the fields.
    void take_from_goal();
    void add_to_goal();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    using Change = std::function<void(ClassicalSpec&)>;
    void make_combos();
    void make_line();
    void fill_sections();
    void fill_units();
    // `member` is the spec's, by reference.
    template <class Enum, class Member>
    void add_choices(QToolButton* button, const QString& title,
                     std::span<const NamedValue<Enum>> all, Member member);
    // Tried before it is taken; what cannot be designed is explained instead.
    void change(const QString& name, const Change& change);
    void show_line(const ClassicalSpec& spec);
    void show_order(const ClassicalSpec& spec);
    void show_sections();
    void show_refusal(const QString& text);

    QComboBox *family_, *band_, *stated_by_;
    QWidget* line_;
    QLabel *order_found_, *peaks_, *refusal_;
    QToolButton *better_, *mapping_, *sections_, *units_, *goal_;
    std::vector<std::function<void(const ClassicalSpec&)>> checks_; // marks what is chosen
    std::size_t edge_unit_ = 0;
    QString refused_;
    std::string shown_stage_;
};

} // namespace syntonon
