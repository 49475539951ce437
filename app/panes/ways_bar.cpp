// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/ways_bar.h"

#include "app/model/take_commands.h"
#include "app/model/way_commands.h"
#include "app/widgets/flat_button.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QShortcut>
#include <QSpinBox>
#include <QTableWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <numeric>

namespace syntonon {
namespace {

constexpr int bar_height = 214, row_height = 18, name_column = 0, size_column = 1;

// A column of numbers: what it shows and is sorted by.
struct Column {
    const char* title;
    const char* tip;
    int places; // behind the point
    std::optional<double> (*value)(const WayFacts& facts);
    bool is_of_samples = false; // says nothing in continuous time
};

std::optional<double> in_ms(const std::optional<double>& seconds) {
    return seconds ? std::optional(*seconds * 1e3) : std::nullopt;
}

const std::array<Column, 9> columns{{
    {QT_TR_NOOP("length\nor order"), QT_TR_NOOP("Taps of an FIR, order of a recursive filter"), 0,
     [](const WayFacts& f) { return std::optional<double>(f.taps > 0 ? f.taps : f.order); }},
    {QT_TR_NOOP("ripple\ndB"), QT_TR_NOOP("From the lowest to the highest deviation in a passband"),
     3, [](const WayFacts& f) { return f.ripple_db; }},
    {QT_TR_NOOP("down\ndB"), QT_TR_NOOP("How far the stopbands are down at least"), 1,
     [](const WayFacts& f) { return f.attenuation_db; }},
    {QT_TR_NOOP("spare\ndB"), QT_TR_NOOP("The worst margin of all that is asked of the level"), 2,
     [](const WayFacts& f) { return f.worst_margin_db; }},
    {QT_TR_NOOP("delay\nms"), QT_TR_NOOP("The group delay, weighted by energy"), 2,
     [](const WayFacts& f) { return in_ms(f.delay_s); }},
    {QT_TR_NOOP("before\ndB"), QT_TR_NOOP("Energy ahead of the greatest sample, against all"), 1,
     [](const WayFacts& f) { return f.pre_ringing_db; }},
    {QT_TR_NOOP("multi-\nplies"), QT_TR_NOOP("Multiplications per sample"), 0,
     [](const WayFacts& f) { return std::optional<double>(f.cost.multiplies); }, true},
    {QT_TR_NOOP("state\nwords"), QT_TR_NOOP("Words of memory for its state"), 0,
     [](const WayFacts& f) { return std::optional(double(f.cost.state_words)); }, true},
    {QT_TR_NOOP("made\nms"), QT_TR_NOOP("The time that designing it took"), 1,
     [](const WayFacts& f) { return std::optional(f.design_s * 1e3); }},
}};

constexpr int keep_column = static_cast<int>(columns.size()) + 1;

QString shown(const std::optional<double>& value, int places) {
    return value ? fixed_number(*value, places) : QStringLiteral("–");
}

// Ascending, what has no number last whichever way.
bool comes_before(const std::optional<double>& a, const std::optional<double>& b,
                  Qt::SortOrder order) {
    if (!a || !b) {
        return a.has_value() && !b.has_value();
    }
    return order == Qt::AscendingOrder ? *a < *b : *a > *b;
}

} // namespace

WaysBar::WaysBar(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), finder_(session), title_(new QLabel(tr("All methods"))),
      given_(new QCheckBox(tr("FIRs of"))), length_(new QSpinBox),
      find_(flat_button(tr("Find"), tr("Look for all filters that meet the goal"))),
      close_(flat_button(tr("Close"), tr("Take the methods away"))), words_(new QLabel),
      table_(new QTableWidget), sorted_by_(size_column) {
    setFixedHeight(bar_height);
    lay_out();
    connect(find_, &QToolButton::clicked, this, [this] {
        if (finder_.is_busy()) {
            finder_.stop();
        } else {
            find();
        }
    });
    connect(close_, &QToolButton::clicked, this, &WaysBar::closed);
    connect(given_, &QCheckBox::toggled, this, [this](bool on) {
        length_->setEnabled(on);
        find();
    });
    length_->setKeyboardTracking(false); // a length counts when it is typed to its end
    connect(length_, &QSpinBox::valueChanged, this, [this] {
        if (given_->isChecked()) {
            find();
        }
    });
    connect(&finder_, &WayFinder::changed, this, &WaysBar::refresh);
    connect(&session_, &Session::analysis_changed, this, &WaysBar::follow_session);
    connect(table_, &QTableWidget::cellEntered, this, [this](int row, int) { point_at(row); });
    connect(table_, &QTableWidget::currentCellChanged, this,
            [this](int row, int, int, int) { point_at(row); });
    connect(table_, &QTableWidget::cellClicked, this, [this](int row, int column) {
        if (column != keep_column) { // whose box says so itself
            take_row(row);
        }
    });
    connect(table_, &QTableWidget::itemChanged, this, [this](const QTableWidgetItem* item) {
        if (item->column() == keep_column) {
            keep_row(item->row(), item->checkState() == Qt::Checked);
        }
    });
    connect(new QShortcut(Qt::Key_Space, table_, nullptr, nullptr, Qt::WidgetShortcut),
            &QShortcut::activated, this, [this] {
                if (const Way* way = way_of(table_->currentRow()); way != nullptr) {
                    keep_row(table_->currentRow(), !is_kept(*way));
                }
            });
    connect(table_, &QTableWidget::cellActivated, this, [this](int row, int) { take_row(row); });
    connect(table_->horizontalHeader(), &QHeaderView::sectionClicked, this, [this](int column) {
        if (column == keep_column) {
            return;
        }
        const bool again = column == sorted_by_ && sorted_ == Qt::AscendingOrder;
        sorted_ = again ? Qt::DescendingOrder : Qt::AscendingOrder;
        sorted_by_ = column;
        mark_sorted();
        refresh();
    });
}

QStringList WaysBar::titles_of_columns() const {
    QStringList titles{tr("method")};
    for (const Column& each : columns) {
        titles << tr(each.title);
    }
    return titles << tr("keep");
}

// Above the title: the style's own arrow would stand on it.
void WaysBar::mark_sorted() {
    QStringList titles = titles_of_columns();
    titles[sorted_by_].prepend(sorted_ == Qt::AscendingOrder ? QStringLiteral("▴\n")
                                                             : QStringLiteral("▾\n"));
    table_->setHorizontalHeaderLabels(titles);
}

void WaysBar::lay_out() {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(46, 2, 24, 2);
    column->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setSpacing(6);
    title_->setFont(text_font(12, QFont::DemiBold));
    words_->setFont(text_font(11));
    words_->setForegroundRole(QPalette::PlaceholderText);
    words_->setMinimumWidth(20);
    words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    given_->setFont(text_font(11));
    given_->setToolTip(tr("All FIRs of one length; else each is as short as meets the goal"));
    length_->setRange(Ways::shortest_taps, Ways::longest_taps);
    length_->setValue(101);
    length_->setSuffix(tr(" taps"));
    length_->setEnabled(false);
    length_->setFont(text_font(11));
    length_->setFixedHeight(22);
    length_->setAccessibleName(tr("Length of all FIRs"));
    for (QWidget* widget : std::initializer_list<QWidget*>{title_, find_, given_, length_}) {
        head->addWidget(widget);
    }
    head->addWidget(words_, 1);
    head->addWidget(close_);
    column->addLayout(head);
    column->addWidget(table_, 1);
    set_up_rows(*table_, titles_of_columns(), row_height);
    set_up_reading(*table_);
    for (std::size_t i = 0; i < columns.size(); ++i) {
        table_->horizontalHeaderItem(static_cast<int>(i) + 1)->setToolTip(tr(columns[i].tip));
    }
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setMouseTracking(true);
    table_->setFont(text_font(11));
    table_->horizontalHeader()->setFont(text_font(10));
    table_->horizontalHeader()->setMinimumSectionSize(30);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Interactive);
    table_->horizontalHeader()->setSectionResizeMode(name_column, QHeaderView::Stretch);
    constexpr int size_width = 62, number_width = 42, keep_width = 36;
    for (int each = size_column; each < keep_column; ++each) {
        table_->setColumnWidth(each, each == size_column ? size_width : number_width);
    }
    table_->setColumnWidth(keep_column, keep_width);
    table_->horizontalHeaderItem(keep_column)
        ->setToolTip(tr("Tick a row to keep it as a take (Space)"));
    constexpr int titles_height = 42; // two lines, and the arrow
    table_->horizontalHeader()->setFixedHeight(titles_height);
    for (int each = 0; each < table_->columnCount(); ++each) {
        const bool is_number = each != name_column && each != keep_column;
        table_->horizontalHeaderItem(each)->setTextAlignment(
            Qt::AlignBottom | (is_number ? Qt::AlignRight : Qt::AlignLeft));
    }
    table_->horizontalHeader()->setSectionsClickable(true);
    mark_sorted();
    table_->setAccessibleName(tr("All methods that can meet the goal"));
}

QString WaysBar::words() const {
    return words_->text();
}

void WaysBar::find() {
    const std::optional<int> length =
        given_->isChecked() ? std::optional(length_->value()) : std::nullopt;
    table_->setCurrentCell(-1, -1); // rows come anew
    if (const auto begun = finder_.begin(length); !begun) {
        emit problem_found(QString::fromStdString(to_text(begun.error())));
    }
}

const Way* WaysBar::way_of(int row) const {
    if (row < 0 || static_cast<std::size_t>(row) >= order_.size()) {
        return nullptr;
    }
    const auto& way = finder_.rows()[order_[static_cast<std::size_t>(row)]].way;
    return way ? &*way : nullptr;
}

void WaysBar::refresh() {
    const Way* current = way_of(table_->currentRow());
    const QString name = current != nullptr ? QString::fromStdString(current->name) : QString();
    sort_rows();
    const QSignalBlocker blocker(table_);
    table_->clearSpans();
    table_->setRowCount(static_cast<int>(order_.size()));
    int chosen = -1;
    for (int row = 0; row < table_->rowCount(); ++row) {
        const WayFinder::Row& from = finder_.rows()[order_[static_cast<std::size_t>(row)]];
        fill_row(row, from);
        chosen = from.name == name ? row : chosen;
    }
    if (chosen >= 0) {
        table_->setCurrentCell(chosen, name_column);
    } else {
        table_->clearSelection();
    }
    show_words();
}

// What meets the goal, then what meets its level, then what does not, then what has no filter, then
// what is not found yet.
void WaysBar::sort_rows() {
    const auto& rows = finder_.rows();
    order_.resize(rows.size());
    std::iota(order_.begin(), order_.end(), std::size_t{0});
    const auto rank = [&](std::size_t i) {
        const auto& way = rows[i].way;
        return !way ? 4 : !way->filter ? 3 : !way->meets_level ? 2 : !way->meets_goal ? 1 : 0;
    };
    std::ranges::stable_sort(order_, [&](std::size_t a, std::size_t b) {
        if (rank(a) != rank(b) || rank(a) > 2) {
            return rank(a) < rank(b);
        }
        if (sorted_by_ == name_column) {
            return sorted_ == Qt::AscendingOrder ? rows[a].name < rows[b].name
                                                 : rows[b].name < rows[a].name;
        }
        const auto& value = columns[static_cast<std::size_t>(sorted_by_ - 1)].value;
        return comes_before(value(rows[a].way->facts), value(rows[b].way->facts), sorted_);
    });
}

void WaysBar::fill_row(int row, const WayFinder::Row& from) {
    const bool meets = from.way && from.way->meets_goal;
    const auto put = [&](int column, QTableWidgetItem* item) {
        if (!meets) {
            item->setForeground(theme().soft);
        }
        table_->setItem(row, column, item);
    };
    put(name_column, text_cell(from.name, false));
    if (!from.way || !from.way->filter) {
        const QString why = from.way ? QString::fromStdString(from.way->why) : QStringLiteral("…");
        auto* item = text_cell(why, false);
        item->setToolTip(from.way ? why : tr("It is being looked for"));
        put(1, item);
        delete table_->takeItem(row, keep_column);
        table_->setSpan(row, 1, 1, static_cast<int>(columns.size()));
        return;
    }
    const Way& way = *from.way;
    for (std::size_t i = 0; i < columns.size(); ++i) {
        const auto value = columns[i].value(way.facts);
        QString text = shown(value, columns[i].places);
        if (i == 0) {
            text = way.facts.taps > 0 ? tr("%1 taps").arg(text) : tr("order %1").arg(text);
        }
        auto* item = text_cell(text, true);
        item->setToolTip(meets ? tr("Click to take it") : QString::fromStdString(way.why));
        put(static_cast<int>(i) + 1, item);
    }
    auto* keep = new QTableWidgetItem;
    keep->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    keep->setCheckState(is_kept(way) ? Qt::Checked : Qt::Unchecked);
    keep->setData(Qt::AccessibleTextRole, tr("Keep %1 as a take").arg(from.name));
    put(keep_column, keep);
}

// Another channel with a goal of its own has methods of its own.
void WaysBar::follow_session() {
    if (!isVisible()) {
        return; // until it is shown
    }
    const auto analysis = session_.analysis();
    const bool is_domain_analog = session_.axis().is_analog();
    for (std::size_t i = 0; i < columns.size(); ++i) {
        table_->setColumnHidden(static_cast<int>(i) + 1,
                                columns[i].is_of_samples && is_domain_analog);
    }
    if (!finder_.is_of_this_channel() && analysis != nullptr && analysis->goal != nullptr) {
        find();
        return;
    }
    show_ticks();
    show_words();
}

// Takes come and go elsewhere, too. While one drags this is all that is done.
void WaysBar::show_ticks() {
    const QSignalBlocker blocker(table_);
    for (int row = 0; row < table_->rowCount(); ++row) {
        QTableWidgetItem* keep = table_->item(row, keep_column);
        const Way* way = way_of(row);
        const Qt::CheckState state = way != nullptr && is_kept(*way) ? Qt::Checked : Qt::Unchecked;
        if (keep != nullptr && keep->checkState() != state) {
            keep->setCheckState(state);
        }
    }
}

void WaysBar::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    follow_session();
}

void WaysBar::show_words() {
    find_->setText(finder_.is_busy() ? tr("Stop") : tr("Find"));
    const auto count = [this](auto counts) {
        return std::ranges::count_if(
            finder_.rows(), [&](const WayFinder::Row& row) { return row.way && counts(*row.way); });
    };
    const auto met = count([](const Way& way) { return way.meets_goal; });
    words_->setText(
        session_.analysis() == nullptr || session_.analysis()->goal == nullptr
            ? tr("this channel has no goal")
        : finder_.rows().empty() ? tr("none looked for yet")
        : finder_.is_busy()
            ? tr("%1 of %2 looked at …").arg(finder_.found()).arg(finder_.rows().size())
        : finder_.is_outdated() ? tr("the goal has changed: find again")
        : finder_.is_stopped()
            ? tr("stopped after %1 of %2").arg(finder_.found()).arg(finder_.rows().size())
            : tr("%1 of %2 meet it: click one").arg(met).arg(finder_.rows().size()));
}

void WaysBar::point_at(int row) {
    const Way* way = way_of(row);
    const bool is_right = way != nullptr && !finder_.is_outdated();
    const auto chain =
        is_right && way->filter ? chain_with(session_, way->spec, *way->filter) : std::nullopt;
    if (chain) {
        session_.glimpse().hold(session_.channel()->id, QString::fromStdString(way->name), *chain);
    } else {
        session_.glimpse().end();
    }
}

std::optional<int> WaysBar::take_of(const Way& way) const {
    if (session_.channel() == nullptr || !finder_.is_of_this_channel()) {
        return std::nullopt;
    }
    const auto& takes = session_.channel()->takes;
    const auto found = std::ranges::find_if(takes, [&](const auto& take) {
        return take->name == way.name && std::ranges::any_of(take->stages, [&](const auto& stage) {
                   return stage->spec == way.spec;
               });
    });
    return found == takes.end() ? std::nullopt
                                : std::optional(static_cast<int>(found - takes.begin()));
}

// What was found for another goal or channel is not what its row says.
bool WaysBar::is_still_right() {
    const bool is_right = !finder_.is_outdated();
    if (!is_right) {
        emit problem_found(tr("These filters were found for another goal; find them again"));
    }
    return is_right;
}

void WaysBar::take_row(int row) {
    if (const Way* way = way_of(row); way != nullptr && is_still_right()) {
        session_.glimpse().end();
        take_way(session_, Way(*way));
    }
}

void WaysBar::keep_row(int row, bool keep) {
    const Way* found = way_of(row);
    if (found == nullptr || keep == is_kept(*found)) {
        return;
    }
    const Way way = *found; // the row may be filled anew meanwhile
    if (!keep) {
        remove_take(session_, *take_of(way));
    } else if (is_still_right()) {
        keep_way(session_, way);
    }
    show_ticks();
}

void WaysBar::leaveEvent(QEvent* event) {
    QWidget::leaveEvent(event);
    session_.glimpse().end();
}

void WaysBar::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    finder_.stop();
    session_.glimpse().end();
}

} // namespace syntonon
