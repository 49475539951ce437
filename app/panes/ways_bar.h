// Under the lanes: every method that can meet the goal, side by side, to choose one by its numbers.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/way_finder.h"

#include <QWidget>
#include <vector>

class QCheckBox;
class QLabel;
class QSpinBox;
class QTableWidget;
class QToolButton;

namespace syntonon {

// Rows appear as they are found, and are sorted by any column. The one that is pointed at is seen
// on the lanes; a click, or Enter, takes it; a tick, or Space, keeps it as a take. Those that
// cannot do it say why. When another channel with a goal is chosen its methods are looked for.
class WaysBar : public QWidget {
    Q_OBJECT

public:
    explicit WaysBar(Session& session, QWidget* parent = nullptr);

    WayFinder& finder() { return finder_; }
    QTableWidget* table() const { return table_; }
    QToolButton* find_button() const { return find_; }
    QCheckBox* given_length() const { return given_; }
    QSpinBox* length() const { return length_; }
    QString words() const;
    // Looks for them now.
    void find();
    // Of a row of the table; null where nothing was found yet.
    const Way* way_of(int row) const;

signals:
    void closed();
    void problem_found(const QString& text);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    void lay_out();
    QStringList titles_of_columns() const;
    void mark_sorted();
    void refresh();
    void sort_rows();
    void fill_row(int row, const WayFinder::Row& from);
    void show_words();
    void point_at(int row);
    void take_row(int row);
    void keep_row(int row, bool keep);
    bool is_kept(const Way& way) const { return take_of(way).has_value(); }
    std::optional<int> take_of(const Way& way) const; // its place among the channel's
    void follow_session();
    void show_ticks();
    bool is_still_right(); // or says that it is not

    Session& session_;
    WayFinder finder_;
    QLabel* title_;
    QCheckBox* given_;
    QSpinBox* length_;
    QToolButton *find_, *close_;
    QLabel* words_;
    QTableWidget* table_;
    std::vector<std::size_t> order_; // of the finder's rows, as they are shown
    int sorted_by_;                  // a column
    Qt::SortOrder sorted_ = Qt::AscendingOrder;
};

} // namespace syntonon
