// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/fitted_trim.h"

#include "app/panes/trim/trim_panels.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <algorithm>
#include <array>

namespace syntonon {
namespace {

constexpr std::array fit_keys_in_strip = {"order",   "numerator_order", "length",
                                          "from_hz", "to_hz",           "greatest_q"};

std::vector<TrimField> fitted_trim_fields() {
    auto fields = trim_fields<FittedSpec>();
    std::erase_if(fields, [](const TrimField& field) {
        return std::ranges::find(fit_keys_in_strip, field.key) == fit_keys_in_strip.end();
    });
    for (TrimField& field : fields) {
        field.format.places = field.key == "greatest_q" ? 1 : 0;
        if (field.key == "numerator_order") { // as many as poles unless stated
            field.derived = [](const StageSpec& spec, double) {
                const auto& fitted = std::get<FittedSpec>(*spec);
                return may_state_zeros(fitted) ? std::optional<double>(zeros_wanted(fitted))
                                               : std::nullopt;
            };
        }
    }
    return fields;
}

template <class Enum>
QComboBox* choice_of(std::span<const NamedValue<Enum>> all, const QString& name) {
    auto* choice = new QComboBox;
    for (const auto& one : all) {
        choice->addItem(text_of(one.title));
    }
    choice->setAccessibleName(name);
    return choice;
}

} // namespace

FittedTrim::FittedTrim(Session& session, QWidget* parent)
    : FitTrim(session, fitted_trim_fields(), parent),
      match_(choice_of(names_of_fitted_matches(), tr("Match"))),
      errors_(choice_of(names_of_fitted_errors(), tr("Errors"))),
      method_(choice_of(names_of_impulse_methods(), tr("Method"))),
      errors_box_(new TitledBox(tr("Errors"), errors_, 158)),
      method_box_(new TitledBox(tr("Method"), method_, 200)) {
    row()->insertWidget(0, new TitledBox(tr("Match"), match_, 236));
    row()->insertWidget(1, errors_box_);
    row()->insertWidget(2, method_box_);
    for (const char* key : fit_keys_in_strip) {
        field(key)->setFixedWidth(std::string_view(key).ends_with("hz") ? 84 : 64);
    }
    connect(match_, &QComboBox::activated, this, [this](int index) {
        edit(tr("Match something else with %1"), {}, [index](StageSpec& spec) {
            std::get<FittedSpec>(spec.edit()).match =
                names_of_fitted_matches()[static_cast<std::size_t>(index)].value;
        });
    });
    connect(method_, &QComboBox::activated, this, &FittedTrim::choose_method);
    connect(errors_, &QComboBox::activated, this, [this](int index) {
        edit(tr("Choose what is least of %1"), {}, [index](StageSpec& spec) {
            std::get<FittedSpec>(spec.edit()).errors =
                names_of_fitted_errors()[static_cast<std::size_t>(index)].value;
        });
    });
}

void FittedTrim::choose_method(int index) {
    edit(tr("Choose the method of %1"), {}, [index](StageSpec& spec) {
        std::get<FittedSpec>(spec.edit()).method =
            names_of_impulse_methods()[static_cast<std::size_t>(index)].value;
    });
}

void FittedTrim::show_stage(const Stage& stage) {
    FitTrim::show_stage(stage);
    const auto& spec = std::get<FittedSpec>(*stage.spec);
    match_->setCurrentIndex(static_cast<int>(spec.match));
    errors_->setCurrentIndex(static_cast<int>(spec.errors));
    method_->setCurrentIndex(static_cast<int>(spec.method));
    method_box_->setVisible(spec.match == FittedMatch::impulse);
    errors_box_->setVisible(spec.match != FittedMatch::impulse);
}

TrimPanel* make_panel(const FittedSpec&, Session& session) {
    return new FittedTrim(session);
}

void offer(const FittedSpec& spec, std::vector<NewStage>& offers) {
    const QString group = QObject::tr("Fitted");
    offers.push_back({QObject::tr("Recursive fit"), spec, group});
    FittedSpec delays = spec;
    delays.match = FittedMatch::delay;
    offers.push_back({QObject::tr("Delay equaliser"), delays, group});
    FittedSpec phases = delays;
    phases.match = FittedMatch::phase;
    phases.order = 4;
    phases.from_hz = 40;
    phases.to_hz = 200;
    offers.push_back({QObject::tr("Phase matching"), phases, group});
    FittedSpec model = spec;
    model.match = FittedMatch::impulse;
    offers.push_back({QObject::tr("Recursive model"), model, group});
}

} // namespace syntonon
