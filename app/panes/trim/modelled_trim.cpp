// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/modelled_trim.h"

#include "app/panes/trim/trim_panels.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <bit>

namespace syntonon {
namespace {

using Choice = ModelledTrim::Choice;

template <class Enum>
QStringList titles_of(std::span<const NamedValue<Enum>> names) {
    QStringList titles;
    for (const auto& name : names) {
        titles.append(text_of(name.title));
    }
    return titles;
}

// What both kinds have in common.
template <class Spec>
Choice of_stages(const QString& title, const QString& linear) {
    return {title,
            {QObject::tr("saturate"), linear},
            104,
            QObject::tr("Change what saturates in %1"),
            [](const StageSpec& spec) { return std::get<Spec>(*spec).saturating ? 0 : 1; },
            [](StageSpec& spec, int item) { std::get<Spec>(spec.edit()).saturating = item == 0; }};
}
template <class Spec>
Choice of_oversampling() {
    return {
        QObject::tr("Oversampling"),
        {"1 ×", "2 ×", "4 ×", "8 ×"},
        92,
        QObject::tr("Change the oversampling of %1"),
        [](const StageSpec& spec) {
            const auto times = static_cast<unsigned>(std::get<Spec>(*spec).oversampling);
            return static_cast<int>(std::bit_width(times)) - 1;
        },
        [](StageSpec& spec, int item) { std::get<Spec>(spec.edit()).oversampling = 1 << item; }};
}
template <class Spec>
Choice of_prewarping() {
    return {QObject::tr("Prewarping"),
            {QObject::tr("on"), QObject::tr("off")},
            84,
            QObject::tr("Change the prewarping of %1"),
            [](const StageSpec& spec) { return std::get<Spec>(*spec).prewarped ? 0 : 1; },
            [](StageSpec& spec, int item) { std::get<Spec>(spec.edit()).prewarped = item == 0; }};
}
template <class Spec, class Enum>
Choice of_names(const QString& title, int width, std::span<const NamedValue<Enum>> names,
                Enum Spec::*member) {
    return {
        title,
        titles_of(names),
        width,
        QObject::tr("Choose another %2 for %1").arg("%1", title.toLower()),
        [member](const StageSpec& spec) { return static_cast<int>(std::get<Spec>(*spec).*member); },
        [member](StageSpec& spec, int item) {
            std::get<Spec>(spec.edit()).*member = static_cast<Enum>(item);
        }};
}

// All but the oversampling, which is a choice.
template <class Spec>
std::vector<TrimField> modelled_trim_fields() {
    auto fields = trim_fields<Spec>();
    std::erase_if(fields, [](const TrimField& field) { return field.key == "oversampling"; });
    for (TrimField& field : fields) {
        const bool is_level = field.format.dimension == Dimension::level;
        field.format.places = is_level || field.format.dimension == Dimension::frequency ? 1
                              : field.key == "in_series"                                 ? 0
                                                                                         : 3;
    }
    return fields;
}

} // namespace

ModelledTrim::ModelledTrim(Session& session, std::vector<TrimField> fields,
                           std::vector<Choice> choices, std::size_t before, QWidget* parent)
    : FieldsTrim(session, std::move(fields), parent), choices_(std::move(choices)) {
    row()->setSpacing(12);
    for (std::size_t i = 0; i < choices_.size(); ++i) {
        auto* box = new QComboBox;
        box->addItems(choices_[i].items);
        box->setAccessibleName(choices_[i].title);
        boxes_.push_back(box);
        const int place = i < before ? static_cast<int>(i) : row()->count() - 1; // before the rest
        row()->insertWidget(place, new TitledBox(choices_[i].title, box, choices_[i].width));
        connect(box, &QComboBox::activated, this, [this, i](int item) { choose(i, item); });
    }
}

void ModelledTrim::choose(std::size_t index, int item) {
    edit(choices_[index].step, {}, [&](StageSpec& spec) { choices_[index].choose(spec, item); });
}

void ModelledTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    for (std::size_t i = 0; i < choices_.size(); ++i) {
        boxes_[i]->setCurrentIndex(choices_[i].chosen(stage.spec));
    }
}

QComboBox* ModelledTrim::choice(const QString& title) const {
    for (std::size_t i = 0; i < choices_.size(); ++i) {
        if (choices_[i].title == title) {
            return boxes_[i];
        }
    }
    return nullptr;
}

TrimPanel* make_panel(const LadderSpec&, Session& session) {
    auto* panel = new ModelledTrim(
        session, modelled_trim_fields<LadderSpec>(),
        {of_names(QObject::tr("Ladder of"), 118, names_of_ladder_types(), &LadderSpec::type),
         of_names(QObject::tr("Response"), 208, names_of_ladder_responses(), &LadderSpec::response),
         of_stages<LadderSpec>(QObject::tr("Stages"), QObject::tr("linear")),
         of_oversampling<LadderSpec>(), of_prewarping<LadderSpec>()},
        2);
    for (const auto& [key, width] : {std::pair("frequency_hz", 104),
                                     {"resonance", 84},
                                     {"drive_db", 84},
                                     {"bass_compensation", 84}}) {
        panel->field(key)->setFixedWidth(width);
    }
    return panel;
}

void offer(const LadderSpec& spec, std::vector<NewStage>& offers) {
    const QString group = QObject::tr("Modelled");
    LadderSpec ladder = spec;
    ladder.resonance = 0.6;
    offers.push_back({QObject::tr("Transistor ladder"), ladder, group});
    ladder.type = modelled::LadderType::diode;
    offers.push_back({QObject::tr("Diode ladder"), ladder, group});
}

TrimPanel* make_panel(const StateVariableSpec&, Session& session) {
    auto* panel = new ModelledTrim(
        session, modelled_trim_fields<StateVariableSpec>(),
        {of_names(QObject::tr("Response"), 130, names_of_state_variable_responses(),
                  &StateVariableSpec::response),
         of_stages<StateVariableSpec>(QObject::tr("What goes in"), QObject::tr("stays")),
         of_oversampling<StateVariableSpec>(), of_prewarping<StateVariableSpec>()},
        1);
    for (const auto& [key, width] : {std::pair("frequency_hz", 116),
                                     {"resonance", 92},
                                     {"gain_db", 92},
                                     {"in_series", 84},
                                     {"drive_db", 92}}) {
        panel->field(key)->setFixedWidth(width);
    }
    return panel;
}

void offer(const StateVariableSpec& spec, std::vector<NewStage>& offers) {
    offers.push_back({QObject::tr("State-variable filter"), spec, QObject::tr("Modelled")});
}

} // namespace syntonon
