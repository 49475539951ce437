// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/correction_trim.h"

#include "app/panes/trim/trim_panels.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <algorithm>
#include <array>

namespace syntonon {
namespace {

constexpr std::array keys_in_strip = {"from_hz",      "to_hz",          "boost_limit_db",
                                      "cut_limit_db", "count",          "greatest_q",
                                      "length",       "pre_ringing_db", "pre_ringing_ms"};

std::vector<TrimField> correction_trim_fields() {
    auto fields = trim_fields<CorrectionSpec>();
    std::erase_if(fields, [](const TrimField& field) {
        return std::ranges::find(keys_in_strip, field.key) == keys_in_strip.end();
    });
    for (TrimField& field : fields) {
        field.format.places = field.key == "count" || field.key == "length"    ? 0
                              : field.format.dimension == Dimension::frequency ? 0
                                                                               : 1;
    }
    return fields;
}

} // namespace

CorrectionTrim::CorrectionTrim(Session& session, QWidget* parent)
    : FitTrim(session, correction_trim_fields(), parent), method_(new QComboBox),
      phase_(new QComboBox) {
    for (const auto& name : names_of_correction_methods()) {
        method_->addItem(text_of(name.title));
    }
    method_->setAccessibleName(tr("Method"));
    row()->insertWidget(0, new TitledBox(tr("Method"), method_, 118));
    for (const auto& name : names_of_correction_phases()) {
        phase_->addItem(text_of(name.title));
    }
    phase_->setAccessibleName(tr("Phase"));
    phase_box_ = new TitledBox(tr("Phase"), phase_, 166);
    row()->insertWidget(1, phase_box_);
    connect(phase_, &QComboBox::activated, this, [this](int index) {
        edit(tr("Choose another phase for %1"), {}, [index](StageSpec& spec) {
            auto& correction = std::get<CorrectionSpec>(spec.edit());
            if (auto* taps = std::get_if<TapsCorrection>(&correction.method)) {
                taps->phase = names_of_correction_phases()[static_cast<std::size_t>(index)].value;
            }
        });
    });
    for (const char* key : keys_in_strip) {
        field(key)->setFixedWidth(std::string_view(key) == "length" ? 110 : 84);
    }
    connect(method_, &QComboBox::activated, this, &CorrectionTrim::take_method);
}

void CorrectionTrim::show_stage(const Stage& stage) {
    FitTrim::show_stage(stage);
    method_->setCurrentIndex(
        static_cast<int>(std::get<CorrectionSpec>(*stage.spec).method.index()));
    const auto* taps = std::get_if<TapsCorrection>(&std::get<CorrectionSpec>(*stage.spec).method);
    phase_box_->setVisible(taps != nullptr);
    if (taps != nullptr) {
        phase_->setCurrentIndex(static_cast<int>(taps->phase));
    }
}

void CorrectionTrim::take_method(int index) {
    edit(tr("Choose another method for %1"), {}, [index](StageSpec& spec) {
        auto& correction = std::get<CorrectionSpec>(spec.edit());
        if (static_cast<int>(correction.method.index()) != index) {
            if (index == 0) {
                correction.method = SectionsCorrection();
            } else {
                correction.method = TapsCorrection();
            }
            correction.fitted_to.clear();
            correction.fitted_aim_db.clear();
            correction.fitted_aim_deg.clear();
        }
    });
}

TrimPanel* make_panel(const CorrectionSpec&, Session& session) {
    return new CorrectionTrim(session);
}

void offer(const CorrectionSpec& spec, std::vector<NewStage>& offers) {
    offers.push_back({QObject::tr("Correction"), spec});
}

} // namespace syntonon
