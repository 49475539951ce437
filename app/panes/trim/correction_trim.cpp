// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/correction_trim.h"

#include "app/model/fitter.h"
#include "app/panes/trim/trim_panels.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <QPushButton>
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

QString error_text(const CorrectionError& error) {
    return tr("%1 dB rms, %2 dB at %3")
        .arg(fixed_number(error.rms_db, 2), fixed_number(error.worst_db, 2),
             QString::fromStdString(frequency_text(error.worst_hz)));
}

// Of sections that mind it.
QString timing_words(const SectionsCorrection& method, const FitFigures::Timing& timing) {
    const bool by_delay = method.match == CorrectionMatch::delay;
    const QString unit = by_delay ? tr(" ms") : QStringLiteral("°");
    const int places = by_delay ? 2 : 1;
    const QString errors =
        (by_delay ? tr("; group delay %1 rms, %2 without it") : tr("; phase %1 rms, %2 without it"))
            .arg(fixed_number(timing.after.rms, places) + unit,
                 fixed_number(timing.before.rms, places) + unit);
    return method.delay_ms != 0 ? errors + tr(", %1 ms later").arg(fixed_number(method.delay_ms, 2))
                                : errors;
}

// Of mixed phase, or of sections with all-passes.
QString timing_words(const Stage& stage, const FitFigures& figures) {
    const auto* spec = std::get_if<CorrectionSpec>(&*stage.spec);
    if (spec != nullptr && figures.timing) {
        return timing_words(std::get<SectionsCorrection>(spec->method), *figures.timing);
    }
    const auto* taps = spec != nullptr ? std::get_if<TapsCorrection>(&spec->method) : nullptr;
    if (taps == nullptr || taps->found == nullptr) {
        return {};
    }
    QString where = tr("; the sound stands at tap %1").arg(taps->sound_at_samples);
    if (taps->phase != TapsCorrection::Phase::mixed) {
        return where;
    }
    return where
           + (taps->timing_up_to_hz > 0
                  ? tr("; timing corrected up to %1, pre-ringing %2 dB at worst")
                        .arg(QString::fromStdString(frequency_text(taps->timing_up_to_hz)),
                             fixed_number(taps->worst_pre_ringing_db, 0))
                  : tr("; timing left as it is: it would ring before the sound at some position"));
}

} // namespace

QString fit_words(Session& session, const std::string& stage) {
    const auto state = session.fitter().state_of(stage);
    if (session.fitter().is_fitting(stage)) {
        return tr("fitting: %1 %").arg(std::lround(100 * session.fitter().done()));
    }
    if (state == nullptr) {
        return {};
    }
    if (!state->figures) {
        const Problem& why = state->figures.error();
        return QString::fromStdString(why.reason + "; " + why.way_out);
    }
    const auto& [before, after] = state->figures->together;
    if (state->figures->found == 0) {
        return tr("not fitted: %1 as it is").arg(error_text(before));
    }
    const QString now =
        tr("%1; without it %2 dB rms").arg(error_text(after), fixed_number(before.rms_db, 2));
    const Stage* shown = session.stage(stage);
    const QString all =
        now + (shown != nullptr ? timing_words(*shown, *state->figures) : QString());
    return state->outdated ? QString::fromStdString(state->outdated->text()) + "; " + all : all;
}

CorrectionTrim::CorrectionTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, correction_trim_fields(), parent), method_(new QComboBox),
      phase_(new QComboBox), fit_(new QPushButton(tr("Fit"))), words_(new QLabel(this)) {
    row()->setSpacing(10);
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
    row()->insertWidget(row()->count() - 1, fit_, 0, Qt::AlignVCenter);
    fit_->setFixedWidth(72);
    words_->setFont(text_font(11));
    words_->setForegroundRole(QPalette::PlaceholderText);
    connect(method_, &QComboBox::activated, this, &CorrectionTrim::take_method);
    connect(fit_, &QPushButton::clicked, this, &CorrectionTrim::press);
    connect(&session.fitter(), &Fitter::changed, this, &CorrectionTrim::tell_state);
}

void CorrectionTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    shown_ = stage.id;
    refused_.clear();
    method_->setCurrentIndex(
        static_cast<int>(std::get<CorrectionSpec>(*stage.spec).method.index()));
    const auto* taps = std::get_if<TapsCorrection>(&std::get<CorrectionSpec>(*stage.spec).method);
    phase_box_->setVisible(taps != nullptr);
    if (taps != nullptr) {
        phase_->setCurrentIndex(static_cast<int>(taps->phase));
    }
    tell_state();
}

void CorrectionTrim::tell_state() {
    const Stage* stage = session().stage();
    if (stage == nullptr || stage->id != shown_) {
        return;
    }
    const Fitter& fitter = session().fitter();
    const auto state = fitter.state_of(shown_);
    const bool is_fitting = fitter.is_fitting(shown_);
    fit_->setText(is_fitting                             ? tr("Stop")
                  : state != nullptr && state->is_fitted ? tr("Fit again")
                                                         : tr("Fit"));
    fit_->setToolTip(is_fitting ? tr("Take what has been found by now")
                                : tr("Find what corrects the measured set towards the target"));
    words_->setText(refused_.isEmpty() ? fit_words(session(), shown_) : refused_);
}

void CorrectionTrim::press() {
    Fitter& fitter = session().fitter();
    if (fitter.is_fitting(shown_)) {
        fitter.stop();
        return;
    }
    const auto begun = fitter.begin(shown_);
    refused_ = begun ? QString()
                     : QString::fromStdString(begun.error().reason + "; " + begun.error().way_out);
    tell_state();
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

QString CorrectionTrim::words() const {
    return words_->text();
}

void CorrectionTrim::resizeEvent(QResizeEvent* event) {
    FieldsTrim::resizeEvent(event);
    constexpr int high = 18;
    words_->setGeometry(0, under_fields, width(), high);
}

TrimPanel* make_panel(const CorrectionSpec&, Session& session) {
    return new CorrectionTrim(session);
}

void offer(const CorrectionSpec& spec, std::vector<NewStage>& offers) {
    offers.push_back({QObject::tr("Correction"), spec});
}

} // namespace syntonon
