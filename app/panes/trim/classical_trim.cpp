// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/classical_trim.h"

#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/trim/trim_panels.h"
#include "app/widgets/menu_button.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/classical_plan.h"
#include "core/study/classical_goal.h"

#include <QActionGroup>
#include <QComboBox>
#include <QFontMetrics>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

QString digits(double value, int count) {
    return shown_number(value, count);
}

std::vector<TrimField> classical_trim_fields() {
    auto fields = trim_fields<ClassicalSpec>();
    for (TrimField& field : fields) {
        field.format.places = field.format.dimension == Dimension::frequency ? 1
                              : field.format.dimension == Dimension::level   ? 2
                              : field.key == "order"                         ? 0
                                                                             : 4;
    }
    return fields;
}

template <class Enum>
void fill(QComboBox* box, std::span<const NamedValue<Enum>> all) {
    for (const NamedValue<Enum>& one : all) {
        box->addItem(capitalised(text_of(one.title)));
    }
}

template <class Enum>
int place_of(std::span<const NamedValue<Enum>> all, Enum value) {
    return static_cast<int>(std::ranges::find(all, value, &NamedValue<Enum>::value) - all.begin());
}

// The units in which edges can be shown; what is typed without one is in that.
struct EdgeUnit {
    const char* title;
    const char* suffix; // understood behind a number
};
constexpr std::array edge_units =
    std::to_array<EdgeUnit>({{"Hz", "Hz"}, {"rad/s", "rad/s"}, {"× rate", "fs"}});

double per_unit_hz(std::size_t unit, double sample_rate_hz) {
    return unit == 0 ? 1 : unit == 1 ? hz_from_rad_per_s(1) : sample_rate_hz;
}

int width_of(const NumberField<ClassicalSpec>& field) {
    constexpr int of_order = 56, of_edge = 86, of_level = 84, of_ratio = 70;
    const int usual = field.key == "order"                      ? of_order
                      : field.dimension == Dimension::frequency ? of_edge
                      : field.dimension == Dimension::level     ? of_level
                                                                : of_ratio;
    return std::max(usual, QFontMetrics(text_font(11)).horizontalAdvance(field.caption) + 2);
}

} // namespace

TrimPanel* make_panel(const ClassicalSpec&, Session& session) {
    return new ClassicalTrim(session);
}

void offer(const ClassicalSpec&, std::vector<NewStage>& offers) {
    for (const auto& family : names_of_families()) {
        ClassicalSpec spec;
        spec.family = family.value;
        offers.push_back({text_of(family.title), spec, QObject::tr("Classical")});
    }
}

ClassicalTrim::ClassicalTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, classical_trim_fields(), parent), family_(new QComboBox),
      band_(new QComboBox), stated_by_(new QComboBox), line_(new QWidget(this)),
      order_found_(new QLabel), peaks_(new QLabel), refusal_(new QLabel) {
    row()->setSpacing(10);
    for (const auto& field : fields_of(ClassicalSpec())) {
        Field* box = this->field(field.key);
        box->setFixedWidth(width_of(field));
    }
    make_combos();
    make_line();
}

void ClassicalTrim::make_combos() {
    fill(family_, names_of_families());
    fill(band_, names_of_bands());
    stated_by_->addItems({tr("order"), tr("tolerances")});
    family_->setAccessibleName(tr("Family"));
    band_->setAccessibleName(tr("Band"));
    stated_by_->setAccessibleName(tr("Stated by"));
    row()->insertWidget(0, new TitledBox(tr("Family"), family_, 184));
    row()->insertWidget(1, new TitledBox(tr("Band"), band_, 122));
    row()->insertWidget(2, new TitledBox(tr("Stated by"), stated_by_, 118));
    connect(family_, &QComboBox::activated, this, [this](int index) {
        const auto value = names_of_families()[static_cast<std::size_t>(index)].value;
        change(tr("Choose another family for %1"), [value](ClassicalSpec& s) {
            s.family = value;
            if (value == ClassicalFamily::linkwitz_riley) {
                s.order += s.order % 2;
                s.band = has_two_edges(s.band) ? ClassicalBand::low_pass : s.band;
            }
        });
    });
    connect(band_, &QComboBox::activated, this, [this](int index) {
        const auto value = names_of_bands()[static_cast<std::size_t>(index)].value;
        change(tr("Choose another band for %1"), [value](ClassicalSpec& s) {
            s.band = value;
            s.tolerances = in_order_for(s.tolerances, value);
        });
    });
    connect(stated_by_, &QComboBox::activated, this, [this](int index) {
        change(tr("State %1 another way"), [index](ClassicalSpec& s) {
            s.by_tolerances = index == 1;
            s.tolerances = in_order_for(s.tolerances, s.band);
        });
    });
}

template <class Enum, class Member>
void ClassicalTrim::add_choices(QToolButton* button, const QString& title,
                                std::span<const NamedValue<Enum>> all, Member member) {
    auto* group = new QActionGroup(button);
    if (!title.isEmpty()) {
        button->menu()->addSection(title);
    }
    for (const NamedValue<Enum>& one : all) {
        QAction* action = button->menu()->addAction(text_of(one.title));
        action->setCheckable(true);
        group->addAction(action);
        connect(action, &QAction::triggered, this, [this, member, value = one.value] {
            change(tr("Change %1"), [&](ClassicalSpec& s) { member(s) = value; });
        });
        checks_.emplace_back([action, member, value = one.value](ClassicalSpec s) {
            action->setChecked(member(s) == value);
        });
    }
}

void ClassicalTrim::make_line() {
    better_ = menu_button({}, tr("What rounding the order up makes better"));
    mapping_ = menu_button({}, tr("Mapping to the z-plane"));
    sections_ = menu_button({}, tr("Sections"));
    units_ = menu_button({}, tr("Unit of the edges"));
    units_->setObjectName("edge_units");
    goal_ = menu_button({}, tr("Goal"));
    goal_->setText(tr("goal"));
    add_choices(
        better_, {}, names_of_betters(), [](ClassicalSpec & s) -> auto& { return s.better; });
    add_choices(
        mapping_, {}, names_of_mappings(), [](ClassicalSpec & s) -> auto& { return s.mapping; });
    fill_sections();
    fill_units();
    connect(goal_->menu()->addAction(tr("Take edges and levels from the goal")),
            &QAction::triggered, this, &ClassicalTrim::take_from_goal);
    connect(goal_->menu()->addAction(tr("Make requirements of the goal from these")),
            &QAction::triggered, this, &ClassicalTrim::add_to_goal);
    auto* line = new QHBoxLayout(line_);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(6);
    for (QLabel* label : {order_found_, peaks_, refusal_}) {
        label->setFont(text_font(11));
    }
    line->addWidget(order_found_);
    for (QToolButton* button : {better_, mapping_, units_, sections_, goal_}) {
        line->addWidget(button);
    }
    line->addWidget(peaks_);
    line->addWidget(refusal_, 1);
}

void ClassicalTrim::fill_sections() {
    add_choices(
        sections_, tr("Poles with"), names_of_pairings(),
        [](ClassicalSpec & s) -> auto& { return s.sections.pairing; });
    add_choices(
        sections_, tr("In the order of"), names_of_section_orders(),
        [](ClassicalSpec & s) -> auto& { return s.sections.order; });
    add_choices(
        sections_, tr("Gain of each"), names_of_section_gains(),
        [](ClassicalSpec & s) -> auto& { return s.sections.gain; });
    add_choices(
        sections_, tr("Bessel's edge is at its"), names_of_bessel_edges(),
        [](ClassicalSpec & s) -> auto& { return s.normalised_to; });
}

// How levels are said, and in what edges are shown.
void ClassicalTrim::fill_units() {
    const auto add_ratio = [this](const QString& title, bool Tolerances::*member) {
        QAction* action = units_->menu()->addAction(title);
        action->setCheckable(true);
        connect(action, &QAction::triggered, this, [this, member](bool on) {
            change(tr("State %1 another way"),
                   [&](ClassicalSpec& s) { use_ratio(s.tolerances, member, on); });
        });
        checks_.emplace_back([action, member](const ClassicalSpec& s) {
            action->setChecked(s.tolerances.*member);
            action->setEnabled(s.by_tolerances);
        });
    };
    add_ratio(tr("Passband as a ratio"), &Tolerances::pass_as_ratio);
    add_ratio(tr("Stopband as a ratio"), &Tolerances::stop_as_ratio);
    units_->menu()->addSeparator();
    for (std::size_t i = 0; i < edge_units.size(); ++i) {
        QAction* action = units_->menu()->addAction(tr("Edges in %1").arg(edge_units.at(i).title));
        action->setCheckable(true);
        connect(action, &QAction::triggered, this, [this, i] {
            edge_unit_ = i;
            if (const Stage* stage = session().stage()) {
                show_stage(*stage);
            }
        });
        checks_.emplace_back(
            [this, action, i](const ClassicalSpec&) { action->setChecked(edge_unit_ == i); });
    }
}

// In the room below the fields' lines, where what is wrong with a field is said, too: that stands
// above it.
void ClassicalTrim::resizeEvent(QResizeEvent* event) {
    FieldsTrim::resizeEvent(event);
    constexpr int below_fields = 48;
    line_->setGeometry(0, below_fields, width(), 20);
    line_->lower();
}

void ClassicalTrim::change(const QString& name, const Change& change) {
    const Stage* stage = session().stage();
    if (stage == nullptr) {
        return;
    }
    StageSpec tried = stage->spec;
    change(std::get<ClassicalSpec>(tried.edit()));
    const auto ok = session().try_design(tried);
    show_refusal(ok ? QString()
                    : QString::fromStdString(ok.error().reason + "; " + ok.error().way_out));
    if (!ok) {
        show_stage(*stage); // the combo boxes go back
        return;
    }
    edit(name, {}, [&](StageSpec& spec) { change(std::get<ClassicalSpec>(spec.edit())); });
}

void ClassicalTrim::show_refusal(const QString& text) {
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, theme().not_met);
    refusal_->setPalette(colours);
    refusal_->setText(text.isEmpty() ? QString() : QStringLiteral("◇ ") + text);
    refusal_->setToolTip(text);
    refused_ = text;
}

QString ClassicalTrim::problem() const {
    return refused_;
}

void ClassicalTrim::show_stage(const Stage& stage) {
    const auto& spec = std::get<ClassicalSpec>(*stage.spec);
    for (const auto& field : fields_of(spec)) {
        if (field.dimension == Dimension::frequency) {
            const double rate = session().study().sample_rate_hz;
            this->field(field.key)->set_unit(
                tr(edge_units[edge_unit_].title), edge_units[edge_unit_].suffix,
                per_unit_hz(edge_unit_, rate), edge_unit_ == 2 ? 6 : 1);
        }
    }
    FieldsTrim::show_stage(stage);
    family_->setCurrentIndex(place_of(names_of_families(), spec.family));
    band_->setCurrentIndex(place_of(names_of_bands(), spec.band));
    stated_by_->setCurrentIndex(spec.by_tolerances ? 1 : 0);
    for (const auto& check : checks_) {
        check(spec);
    }
    if (stage.id != shown_stage_) {
        show_refusal({});
        shown_stage_ = stage.id;
    }
    show_line(spec);
}

void ClassicalTrim::show_line(const ClassicalSpec& spec) {
    const bool is_analog = session().axis().is_analog();
    const auto name_in = [](auto all, auto value) {
        return text_of(all[static_cast<std::size_t>(place_of(all, value))].title).toLower();
    };
    better_->setVisible(spec.by_tolerances);
    better_->setText(tr("better: %1").arg(name_in(names_of_betters(), spec.better)));
    mapping_->setVisible(!is_analog);
    mapping_->setText(name_in(names_of_mappings(), spec.mapping));
    show_sections();
    units_->setText(tr("units"));
    show_order(spec);
    const StageAnalysis* analysis = session().stage_analysis();
    if (analysis != nullptr && !analysis->filter) {
        const Problem& why = analysis->filter.error();
        if (field(why.place) == nullptr) { // of no single field
            show_refusal(QString::fromStdString(why.reason + "; " + why.way_out));
        }
    } else if (analysis != nullptr && refused_.isEmpty()) {
        QPalette colours = palette();
        colours.setColor(QPalette::WindowText, theme().soft);
        refusal_->setPalette(colours);
        refusal_->setText(QString::fromStdString(
            !analysis->note.empty() ? "double coefficients: " + analysis->note
            : spec.by_tolerances    ? binding_side(spec.tolerances)
                                    : std::string()));
        refusal_->setToolTip(refusal_->text());
    }
}

// How many, and how high the level is after each.
void ClassicalTrim::show_sections() {
    const StageAnalysis* analysis = session().stage_analysis();
    const auto peaks = analysis != nullptr && analysis->filter
                           ? peak_levels_db(*analysis->filter, session().axis())
                           : std::vector<double>{};
    sections_->setText(peaks.empty() ? tr("sections")
                       : peaks.size() == 1
                           ? tr("1 section")
                           : counted(static_cast<int>(peaks.size()), "section", "sections"));
    QStringList levels;
    for (const double peak : peaks) {
        levels << QString::fromStdString(signed_text(peak, 1));
    }
    peaks_->setText(levels.isEmpty() ? QString()
                                     : tr("peaks %1 dB").arg(levels.join(QStringLiteral(" "))));
    peaks_->setToolTip(tr("The greatest level after each section"));
}

// "order 13.9437 → 14 · 6303 rad/s": what was found, and the analog edges behind the digital ones.
void ClassicalTrim::show_order(const ClassicalSpec& spec) {
    const Axis axis = session().axis();
    const auto plan = plan_of(spec, axis);
    if (!plan) {
        order_found_->clear();
        return;
    }
    QStringList words;
    if (plan->found) {
        words << (plan->found->unrounded
                      ? tr("order %1 → %2").arg(digits(*plan->found->unrounded, 6)).arg(plan->order)
                      : tr("order %1, searched").arg(plan->order));
    }
    QStringList edges;
    for (std::size_t i = 0; i < (has_two_edges(spec.band) ? 2U : 1U); ++i) {
        edges << digits(plan->edges_rad_per_s[i], 5);
    }
    const bool is_warped = !axis.is_analog() && spec.mapping == PlaneMapping::bilinear;
    words << tr(is_warped ? "Ω %1 rad/s prewarped" : "Ω %1 rad/s").arg(edges.join(tr(" and ")));
    order_found_->setText(words.join(QStringLiteral(" · ")));
}

void ClassicalTrim::take_from_goal() {
    const auto analysis = session().analysis();
    const Stage* stage = session().stage();
    if (stage == nullptr || analysis == nullptr) {
        return;
    }
    if (analysis->goal == nullptr) {
        show_refusal(tr("the channel has no goal; choose one, or draw a corridor"));
        return;
    }
    const auto& spec = std::get<ClassicalSpec>(*stage->spec);
    const auto found = tolerances_from(*analysis->goal, spec.band, spec.tolerances);
    if (!found) {
        show_refusal(QString::fromStdString(found.error().reason + "; " + found.error().way_out));
        return;
    }
    change(tr("Take the numbers of %1 from the goal"), [&](ClassicalSpec& s) {
        s.tolerances = *found;
        s.by_tolerances = true;
    });
}

void ClassicalTrim::add_to_goal() {
    const Stage* stage = session().stage();
    if (stage == nullptr) {
        return;
    }
    const auto& spec = std::get<ClassicalSpec>(*stage->spec);
    if (!spec.by_tolerances) {
        show_refusal(tr("stated by an order it has no tolerances; state it by them first"));
        return;
    }
    edit_goal(session(), tr("Add what %1 is to meet to the goal").arg(spoken_name(*stage)),
              [&](Goal& goal) {
                  for (auto& one : requirements_of(spec.tolerances, spec.band, session().axis())) {
                      goal.requirements.push_back(Requirement{std::move(one)});
                  }
              });
}

} // namespace syntonon
