// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal/number_table.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QHeaderView>

namespace syntonon {
namespace {

const QString open_text = QStringLiteral("open");

// What stands in brackets is said beside the number, not typed.
QString without_brackets(const QString& text) {
    const auto at = text.indexOf('(');
    // An expression may start with a bracket of its own: "(1+2)*3".
    return at > 0 && text.contains("dB)") ? text.left(at).trimmed() : text.trimmed();
}

} // namespace

QString number_cell(double value) {
    return shown_number(value, 6);
}

QString level_text(std::optional<double> db, LevelText form) {
    if (!db) {
        return open_text;
    }
    return form == LevelText::db ? number_cell(*db)
                                 : QStringLiteral("%1 (%2 dB)")
                                       .arg(shown_number(ratio_from_db(*db), 5),
                                            QString::fromStdString(signed_text(*db, 3)));
}

Expected<double> number_from_cell(const QString& text, Dimension dimension,
                                  const QuantityContext& context) {
    QString typed = without_brackets(text);
    typed.replace(QChar(0x2212), '-');
    return parse_quantity(typed.toStdString(), dimension, context);
}

Expected<std::optional<double>> level_from_text(const QString& text, LevelText form,
                                                const QuantityContext& context) {
    const QString typed = without_brackets(text);
    if (typed.toLower() == open_text || typed.isEmpty()) {
        return std::optional<double>();
    }
    const bool bare = form == LevelText::ratio && !typed.contains("dB", Qt::CaseInsensitive)
                      && !typed.contains("ratio", Qt::CaseInsensitive);
    return number_from_cell(bare ? typed + " ratio" : typed, Dimension::level, context)
        .map([](double db) { return std::optional(db); });
}

NumberTable::NumberTable(const QStringList& titles, const QString& name, QWidget* parent)
    : QTableWidget(parent) {
    set_up_rows(*this, titles);
    horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed
                    | QAbstractItemView::AnyKeyPressed);
    setAccessibleName(name);
    connect(this, &QTableWidget::cellChanged, this, [this](int row, int column) {
        if (!filling_) {
            emit entered(row, column, item(row, column)->text());
        }
    });
    connect(this, &QTableWidget::itemSelectionChanged, this, [this] {
        if (!filling_) {
            emit rows_chosen();
        }
    });
}

void NumberTable::show_rows(const std::vector<QStringList>& rows) {
    filling_ = true;
    setRowCount(static_cast<int>(rows.size()));
    for (int row = 0; row < rowCount(); ++row) {
        const QStringList& texts = rows[static_cast<std::size_t>(row)];
        for (int column = 0; column < static_cast<int>(texts.size()); ++column) {
            if (item(row, column) == nullptr) {
                setItem(row, column, new QTableWidgetItem);
                item(row, column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
                if (fixed_.contains(column)) {
                    item(row, column)->setFlags(Qt::ItemIsSelectable | Qt::ItemIsEnabled);
                }
            }
            if (item(row, column)->text() != texts[column]) {
                item(row, column)->setText(texts[column]);
            }
        }
    }
    filling_ = false;
}

std::set<int> NumberTable::chosen_rows() const {
    std::set<int> rows;
    for (const QTableWidgetItem* cell : selectedItems()) {
        rows.insert(cell->row());
    }
    return rows;
}

void NumberTable::choose_rows(const std::set<int>& rows) {
    if (rows == chosen_rows()) {
        return;
    }
    filling_ = true;
    clearSelection();
    for (const int row : rows) {
        setRangeSelected({row, 0, row, columnCount() - 1}, true);
    }
    filling_ = false;
}

} // namespace syntonon
