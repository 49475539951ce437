// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal/requirements_tab.h"

#include "app/model/requirement_commands.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/units.h"
#include "core/goal/requirement_fields.h"
#include "core/study/company.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <functional>
#include <type_traits>

namespace syntonon {
namespace {

// A number of a requirement as its form shows it: durations in their own unit.
struct ShownField {
    RequirementField field;
    std::optional<double> value;
    std::optional<TimeUnit> time_unit;
    bool optional = false;
};

struct FieldLister {
    std::vector<ShownField>& fields;
    void operator()(const RequirementField& f, double value) {
        fields.push_back({f, value, {}, false});
    }
    void operator()(const RequirementField& f, const Duration& d) {
        fields.push_back({f, d.value, d.unit, false});
    }
    void operator()(const RequirementField& f, const std::optional<double>& value) {
        fields.push_back({f, value, {}, true});
    }
    void operator()(const RequirementField&, const ChannelIds&) {} // see add_channels
    void operator()(const RequirementField& f, const std::optional<Duration>& d) {
        fields.push_back(
            {f, d ? std::optional(d->value) : std::nullopt, d ? d->unit : TimeUnit::samples, true});
    }
};

std::vector<ShownField> fields_of(const RequirementSpec& spec) {
    std::vector<ShownField> fields;
    std::visit([&](const auto& s) { each_field(s, FieldLister{fields}); }, spec);
    return fields;
}

// Sets the field of one key; a duration keeps its unit.
struct FieldSetter {
    const QString& key;
    std::optional<double> value;

    void operator()(const RequirementField& f, double& number) const {
        number = key == f.key ? value.value_or(number) : number;
    }
    void operator()(const RequirementField& f, Duration& d) const {
        d.value = key == f.key ? value.value_or(d.value) : d.value;
    }
    void operator()(const RequirementField& f, std::optional<double>& number) const {
        number = key == f.key ? value : number;
    }
    void operator()(const RequirementField&, ChannelIds&) const {}
    void operator()(const RequirementField& f, std::optional<Duration>& d) const {
        if (key == f.key) {
            d = value ? std::optional(Duration{*value, d ? d->unit : TimeUnit::samples})
                      : std::nullopt;
        }
    }
};

// Says a duration in another unit; the time stays.
struct UnitSetter {
    const QString& key;
    TimeUnit unit;
    double sample_rate_hz;

    void operator()(const RequirementField&, double&) const {}
    void operator()(const RequirementField&, ChannelIds&) const {}
    void operator()(const RequirementField&, std::optional<double>&) const {}
    void operator()(const RequirementField& f, Duration& d) const {
        if (key == f.key) {
            d = {from_samples(samples_of(d, sample_rate_hz), unit, sample_rate_hz), unit};
        }
    }
    void operator()(const RequirementField& f, std::optional<Duration>& d) const {
        if (d) {
            (*this)(f, *d);
        }
    }
};

QString kind_words(std::string_view kind) {
    return QString::fromUtf8(kind.data(), static_cast<qsizetype>(kind.size()))
        .replace("pre_ringing", "pre-ringing")
        .replace('_', ' ');
}

template <std::size_t... i>
void add_kinds(QMenu& menu, const std::function<void(const RequirementSpec&)>& take,
               std::index_sequence<i...>) {
    const auto add = [&]<class Spec>(const Spec& spec) {
        if constexpr (!std::is_same_v<Spec, UnknownRequirement>) {
            menu.addAction(kind_words(Spec::kind), &menu, [take, spec] { take(spec); });
        }
    };
    (add(std::variant_alternative_t<i, RequirementSpec>{}), ...);
}

QString outcome_text(const Finding& finding) {
    const QString mark =
        finding.outcome == Outcome::met ? QStringLiteral("● ") : QStringLiteral("◇ ");
    if (finding.outcome == Outcome::undecided) {
        return mark + QObject::tr("undecided");
    }
    return mark
           + (finding.value ? QStringLiteral("%1 %2").arg(
                  shown_number(std::abs(*finding.value) < 1e-9 ? 0 : *finding.value, 4),
                  QString::fromStdString(finding.unit))
                            : QObject::tr("without limit"));
}

} // namespace

RequirementsTab::RequirementsTab(Session& session)
    : GoalTab(session), table_(new QTableWidget), add_(new QPushButton(tr("Add requirement"))),
      remove_(new QPushButton(tr("Remove"))), form_(new QWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    set_up_rows(*table_, {tr("requirement"), tr("now")});
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    table_->setWordWrap(true);
    table_->verticalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->verticalHeader()->setMinimumSectionSize(22);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setAccessibleName(tr("Requirements"));
    column->addWidget(table_, 1);
    auto* row = new QHBoxLayout;
    row->addWidget(add_);
    row->addWidget(remove_);
    row->addStretch(1);
    column->addLayout(row);
    column->addWidget(form_);
    auto* kinds = new QMenu(add_);
    const auto take_kind = [this](const RequirementSpec& spec) {
        add_requirement(session_, spec);
        choose(table_->rowCount() - 1);
        if (!fields_of(spec).empty()) { // what is typed next goes there
            field(fields_of(spec).front().field.key)->setFocus(Qt::OtherFocusReason);
        }
    };
    add_kinds(*kinds, take_kind, std::make_index_sequence<std::variant_size_v<RequirementSpec>>());
    add_->setMenu(kinds);
    connect(remove_, &QPushButton::clicked, this,
            [this] { remove_requirement(session_, table_->currentRow()); });
    connect(table_, &QTableWidget::currentCellChanged, this, [this] { show_form(stated()); });
    connect(&session_, &Session::analysis_changed, this, [this] {
        if (isVisible()) {
            refresh(stated());
        }
    });
}

void RequirementsTab::choose(int row) {
    table_->setCurrentCell(row, 0);
}

void RequirementsTab::refresh(const Goal* goal) {
    setEnabled(goal != nullptr);
    const auto analysis = session_.analysis();
    const int count = goal != nullptr ? static_cast<int>(goal->requirements.size()) : 0;
    table_->setRowCount(count);
    for (int i = 0; i < count; ++i) {
        const auto& requirement = goal->requirements[static_cast<std::size_t>(i)];
        QString now;
        QString why;
        for (const Finding& finding : analysis->verdict) {
            if (finding.place == "requirements[" + std::to_string(i) + "]") {
                now = outcome_text(finding);
                why = shown_words(finding.reason);
            }
        }
        for (const auto& [column, text] :
             {std::pair{0, shown_words(title_of(requirement))}, {1, now}}) {
            if (table_->item(i, column) == nullptr) {
                table_->setItem(i, column, new QTableWidgetItem);
            }
            if (table_->item(i, column)->text() != text) {
                table_->item(i, column)->setText(text);
            }
            const QString tip = table_->item(i, 0)->text();
            table_->item(i, column)->setToolTip(why.isEmpty() ? tip : tip + "\n" + why);
        }
    }
    show_form(goal);
}

void RequirementsTab::show_form(const Goal* goal) {
    const int row = table_->currentRow();
    const bool there =
        goal != nullptr && row >= 0 && row < static_cast<int>(goal->requirements.size());
    remove_->setEnabled(there);
    form_->setVisible(there);
    if (!there) {
        form_row_ = -1;
        return;
    }
    const RequirementSpec& spec = goal->requirements[static_cast<std::size_t>(row)].spec;
    if (form_row_ != row || form_kind_ != spec.index()) {
        form_row_ = row;
        form_kind_ = spec.index();
        build_form(spec);
    }
    show_values(*goal);
}

void RequirementsTab::build_form(const RequirementSpec& spec) {
    delete form_->layout();
    for (QWidget* old : form_->findChildren<QWidget*>(Qt::FindDirectChildrenOnly)) {
        old->hide();
        old->deleteLater();
        old->setObjectName({});
    }
    auto* grid = new QGridLayout(form_);
    grid->setContentsMargins(0, 2, 0, 2);
    grid->setVerticalSpacing(4);
    int at = 0;
    for (const ShownField& shown : fields_of(spec)) {
        const QString key = shown.field.key;
        const bool from_target = shown.optional && key.startsWith("value");
        auto* edit = new QuantityEdit(shown.time_unit ? Dimension::plain : shown.field.dimension,
                                      shown.field.unit,
                                      !shown.optional ? QString()
                                      : from_target   ? tr("the target")
                                                      : tr("open"));
        edit->setObjectName(key);
        edit->setAccessibleName(tr(shown.field.caption));
        edit->set_sample_rate(session_.study().sample_rate_hz);
        const int row = at / 2, column = at % 2 * 3;
        grid->addWidget(new QLabel(tr(shown.field.caption)), row, column);
        grid->addWidget(edit, row, column + 1);
        grid->setColumnStretch(column + 1, 1);
        connect(edit, &QuantityEdit::problem_found, this, &GoalTab::problem_found);
        connect(edit, &QuantityEdit::value_entered, this,
                [this, key](std::optional<double> value) { take(key, value); });
        if (shown.time_unit) {
            auto* unit = new QComboBox;
            unit->setObjectName(key + "_unit");
            unit->setAccessibleName(tr("Unit of %1").arg(tr(shown.field.caption)));
            unit->addItems({tr("samples"), tr("ms"), tr("s")});
            unit->setMinimumWidth(unit->sizeHint().width());
            grid->addWidget(unit, row, column + 2);
            connect(unit, &QComboBox::activated, this,
                    [this, key](int index) { take_unit(key, static_cast<TimeUnit>(index)); });
        }
        ++at;
    }
    if (channels_of({spec}) != nullptr) {
        add_channels(*grid, (at + 1) / 2);
    }
}

// Which channels a requirement is about beside this one: ticked in a menu.
void RequirementsTab::add_channels(QGridLayout& grid, int row) {
    auto* button = new QPushButton;
    button->setObjectName("with");
    button->setAccessibleName(tr("Together with"));
    auto* menu = new QMenu(button);
    button->setMenu(menu);
    connect(menu, &QMenu::aboutToShow, this, [this, menu] {
        menu->clear();
        const Goal* goal = stated();
        if (goal == nullptr || form_row_ < 0) {
            return;
        }
        const auto& ids = channels_of(goal->requirements[static_cast<std::size_t>(form_row_)])->ids;
        for (const auto& channel : session_.study().channels) {
            QAction* action = menu->addAction(text_of(channel->name));
            action->setCheckable(true);
            action->setChecked(std::ranges::find(ids, channel->id) != ids.end());
            connect(action, &QAction::toggled, this,
                    [this, id = channel->id](bool on) { take_channel(id, on); });
        }
    });
    grid.addWidget(new QLabel(tr("with")), row, 0);
    grid.addWidget(button, row, 1, 1, 5);
}

void RequirementsTab::take_channel(const std::string& id, bool on) {
    change([&]<class Member>(const RequirementField&, Member& member) {
        if constexpr (std::is_same_v<Member, ChannelIds>) {
            std::erase(member.ids, id);
            if (on) {
                member.ids.push_back(id);
            }
        }
    });
}

void RequirementsTab::show_channels(const Requirement& requirement) {
    auto* button = form_->findChild<QPushButton*>("with");
    const ChannelIds* list = channels_of(requirement);
    if (button == nullptr || list == nullptr) {
        return;
    }
    QStringList names;
    for (const std::string& id : list->ids) {
        const Channel* channel = channel_of(session_.study(), id);
        names.append(text_of(channel != nullptr ? channel->name : id));
    }
    button->setText(names.isEmpty() ? tr("the other ways of its crossover")
                                    : names.join(QStringLiteral(", ")));
}

void RequirementsTab::show_values(const Goal& goal) {
    const auto& spec = goal.requirements[static_cast<std::size_t>(form_row_)].spec;
    for (const ShownField& shown : fields_of(spec)) {
        if (QuantityEdit* edit = field(shown.field.key)) {
            edit->show_value(shown.value);
        }
        auto* unit = form_->findChild<QComboBox*>(QString(shown.field.key) + "_unit");
        if (unit != nullptr && shown.time_unit) {
            unit->setCurrentIndex(static_cast<int>(*shown.time_unit));
        }
    }
    show_channels(goal.requirements[static_cast<std::size_t>(form_row_)]);
}

QuantityEdit* RequirementsTab::field(const QString& key) const {
    return form_->findChild<QuantityEdit*>(key);
}

template <class Change>
void RequirementsTab::change(Change apply) {
    const Goal* goal = stated();
    if (goal == nullptr || form_row_ < 0
        || static_cast<std::size_t>(form_row_) >= goal->requirements.size()) {
        return;
    }
    Goal tried = *goal;
    Requirement& requirement = tried.requirements[static_cast<std::size_t>(form_row_)];
    std::visit([&](auto& spec) { each_field(spec, apply); }, requirement.spec);
    const QString title = shown_words(title_of(requirement));
    take_if({}, tr("Change the requirement %1").arg(title), tried);
}

void RequirementsTab::take(const QString& key, std::optional<double> value) {
    change(FieldSetter{key, value});
}

void RequirementsTab::take_unit(const QString& key, TimeUnit unit) {
    change(UnitSetter{key, unit, session_.study().sample_rate_hz});
}

} // namespace syntonon
