// A table of numbers that take units, for points and ranges.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/quantity.h"

#include <QStringList>
#include <QTableWidget>
#include <optional>
#include <set>
#include <vector>

namespace syntonon {

// How levels are written: in dB, or as a ratio with the decibels beside it.
enum class LevelText { db, ratio };

// "−0.175", or "0.98 (−0.175 dB)"; "open" without a value.
QString level_text(std::optional<double> db, LevelText form);
// The reverse; a number without a unit is in `form`. "open" gives nothing.
Expected<std::optional<double>> level_from_text(const QString& text, LevelText form,
                                                const QuantityContext& context);
Expected<double> number_from_cell(const QString& text, Dimension dimension,
                                  const QuantityContext& context);
QString number_cell(double value);

class NumberTable : public QTableWidget {
    Q_OBJECT

public:
    NumberTable(const QStringList& titles, const QString& name, QWidget* parent = nullptr);

    // A column that only shows.
    void fix_column(int column) { fixed_.insert(column); }
    // Shows these rows; cells that stay the same are left alone, so an open editor survives.
    void show_rows(const std::vector<QStringList>& rows);
    std::set<int> chosen_rows() const;
    void choose_rows(const std::set<int>& rows); // without a signal

signals:
    void entered(int row, int column, const QString& text);
    void rows_chosen();

private:
    std::set<int> fixed_;
    bool filling_ = false;
};

} // namespace syntonon
