// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/words_pane.h"

#include "app/plot/words_drawing.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/goal/verdict_text.h"

#include <QEvent>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QTableWidget>
#include <QVBoxLayout>

namespace syntonon {
namespace {

QString cell_text(const TableCell& cell) {
    if (cell.problem) {
        return QObject::tr("◇ does not fit");
    }
    if (!cell.is_stable) {
        return QObject::tr("◇ unstable");
    }
    const QString mark = cell.is_met() ? QStringLiteral("● ") : QStringLiteral("◇ ");
    if (cell.worst && cell.worst->margin && cell.worst->unit == "dB") {
        const double margin = *cell.worst->margin;
        return mark + (margin < 0 ? QStringLiteral("−") : QStringLiteral("+"))
               + fixed_number(std::abs(margin), 2) + QObject::tr(" dB");
    }
    return mark + QObject::tr("±%1 dB").arg(shown_number(cell.worst_db, 2));
}

QString cell_tip(const TableCell& cell) {
    if (cell.problem) {
        return shown_words(to_text(*cell.problem));
    }
    QString tip =
        QObject::tr("Nearest words: %1 dB off at most").arg(shown_number(cell.worst_db, 3));
    if (cell.worst) {
        tip += QStringLiteral("\n") + shown_words(cell.worst->requirement) + QStringLiteral(": ")
               + shown_words(margin_text(*cell.worst));
    }
    return tip;
}

} // namespace

WordsPane::WordsPane(WordsWork& work, QWidget* parent)
    : QWidget(parent), work_(work), title_(new QLabel), problem_(new QLabel), hint_(new QLabel),
      drawing_(new QWidget), table_(new QTableWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 0);
    column->setSpacing(4);
    problem_->setWordWrap(true);
    problem_->setObjectName("words_problem");
    column->addWidget(problem_);
    drawing_->setMinimumHeight(150);
    drawing_->setAccessibleName(tr("Levels as designed and as words"));
    drawing_->installEventFilter(this);
    column->addWidget(drawing_, 1);
    title_->setText(tr("Which structure and word meets the goal"));
    title_->setFont(text_font(12, QFont::DemiBold));
    column->addWidget(title_);
    set_up_reading(*table_);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setTabKeyNavigation(false);
    table_->verticalHeader()->hide();
    table_->verticalHeader()->setDefaultSectionSize(table_row_height);
    table_->horizontalHeader()->setHighlightSections(false);
    table_->setAccessibleName(title_->text());
    table_->setVerticalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    column->addWidget(table_);
    hint_->setFont(text_font(11));
    column->addWidget(hint_);
    connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int row, int) {
        const auto result = work_.result();
        if (result != nullptr && result->table) {
            emit structure_chosen(result->table->rows.at(static_cast<std::size_t>(row)));
        }
    });
    connect(&theme_notifier(), &ThemeNotifier::changed, drawing_, qOverload<>(&QWidget::update));
}

QString WordsPane::problem() const {
    return problem_->text();
}

bool WordsPane::eventFilter(QObject* watched, QEvent* event) {
    if (watched == drawing_ && event->type() == QEvent::Paint) {
        QPainter painter(drawing_);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.fillRect(drawing_->rect(), theme().panel);
        const auto result = work_.result();
        if (result != nullptr && !result->picture.hz.empty()) {
            paint_words(painter, drawing_->rect(), result->picture, theme());
        }
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void WordsPane::show_result(const QString& channel) {
    const auto result = work_.result();
    const bool has_words = result != nullptr && !result->problem;
    QString words;
    if (result != nullptr && result->problem) {
        words = QStringLiteral("◇ ") + shown_words(to_text(*result->problem));
    } else if (result != nullptr && result->is_out_of_date) {
        words = tr("◇ The searched words are out of date: the nearest are shown. Search them again "
                   "on the page Words.");
    } else if (result == nullptr) {
        words =
            work_.is_busy() ? tr("The words of %1 are being worked out …").arg(channel) : QString();
    }
    problem_->setText(words);
    problem_->setVisible(!words.isEmpty());
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, result != nullptr ? theme().not_met : theme().soft);
    problem_->setPalette(colours);
    drawing_->setVisible(has_words);
    drawing_->update();
    show_table();
}

void WordsPane::show_table() {
    const auto result = work_.result();
    const bool has_table = result != nullptr && result->table;
    for (QWidget* each : std::initializer_list<QWidget*>{title_, table_, hint_}) {
        each->setVisible(has_table);
    }
    if (!has_table) {
        return;
    }
    const StructureTable& shown = *result->table;
    QStringList titles{QString()};
    for (const Arithmetic& words : shown.columns) {
        titles << QString::fromStdString(coefficient_title(words));
    }
    table_->clear();
    table_->setColumnCount(static_cast<int>(titles.size()));
    table_->setHorizontalHeaderLabels(titles);
    table_->setRowCount(static_cast<int>(shown.rows.size()));
    bool has_goal = false;
    for (int row = 0; row < table_->rowCount(); ++row) {
        const auto r = static_cast<std::size_t>(row);
        const Structure structure = shown.rows[r];
        auto* name = new QTableWidgetItem(text_of(named(structures(), structure).title));
        const bool is_own = structure == result->chain.structure && !result->problem;
        name->setFont(text_font(12, is_own ? QFont::DemiBold : QFont::Normal));
        table_->setItem(row, 0, name);
        for (int column = 1; column < table_->columnCount(); ++column) {
            const auto c = static_cast<std::size_t>(column - 1);
            const TableCell& cell = shown.cells[r][c];
            has_goal = has_goal || cell.worst;
            auto* item = new QTableWidgetItem(cell_text(cell));
            item->setToolTip(cell_tip(cell));
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            item->setForeground(cell.is_met() ? theme().text : theme().not_met);
            if (is_own && c == shown.own_column) {
                item->setFont(text_font(12, QFont::DemiBold));
            }
            table_->setItem(row, column, item);
        }
    }
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->setFixedHeight(std::min(6, table_->rowCount()) * table_row_height
                           + table_->horizontalHeader()->sizeHint().height() + 4);
    hint_->setText(has_goal ? tr("room of the verdict with the nearest words; double-click takes a "
                                 "structure")
                            : tr("greatest deviation of the nearest words; double-click takes a "
                                 "structure"));
}

} // namespace syntonon
