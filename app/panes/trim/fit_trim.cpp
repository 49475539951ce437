// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/fit_trim.h"

#include "app/model/fitter.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

namespace syntonon {
namespace {

QString error_text(const LevelError& error) {
    return tr("%1 dB rms, %2 dB at %3")
        .arg(fixed_number(error.rms_db, 2), fixed_number(error.worst_db, 2),
             QString::fromStdString(frequency_text(error.worst_hz)));
}

// Of what was found beside the level's error, where that is worth a word.
QString timing_words(const FitFigures::Timing& timing) {
    const QString unit = timing.after.by_delay ? tr(" ms") : QStringLiteral("°");
    const int places = timing.after.by_delay ? 2 : 1;
    return (timing.after.by_delay ? tr("; group delay %1 rms, %2 without it")
                                  : tr("; phase %1 rms, %2 without it"))
        .arg(fixed_number(timing.after.rms, places) + unit,
             fixed_number(timing.before.rms, places) + unit);
}

QString later_words(double delay_ms) {
    return delay_ms != 0 ? tr(", %1 ms later").arg(fixed_number(delay_ms, 2)) : QString();
}

QString words_of_taps(const TapsCorrection& taps) {
    if (taps.found == nullptr) {
        return {};
    }
    QString where = tr("; the sound stands at tap %1").arg(taps.sound_at_samples);
    if (taps.phase != TapsCorrection::Phase::mixed) {
        return where;
    }
    return where
           + (taps.timing_up_to_hz > 0
                  ? tr("; timing corrected up to %1, pre-ringing %2 dB at worst")
                        .arg(QString::fromStdString(frequency_text(taps.timing_up_to_hz)),
                             fixed_number(taps.worst_pre_ringing_db, 0))
                  : tr("; timing left as it is: it would ring before the sound at some position"));
}

QString timing_words(const StageSpec& spec, const FitFigures& figures) {
    QString timing = figures.timing ? timing_words(*figures.timing) : QString();
    if (const auto* correction = std::get_if<CorrectionSpec>(&*spec)) {
        const auto* taps = std::get_if<TapsCorrection>(&correction->method);
        return taps != nullptr ? words_of_taps(*taps)
               : figures.timing
                   ? timing + later_words(std::get<SectionsCorrection>(correction->method).delay_ms)
                   : QString();
    }
    return timing;
}

// Of all-passes the level is none of their business; the delay that is found is the whole chain's.
QString delay_words(const FittedSpec& spec, const FitFigures& figures) {
    const auto& [before, after] = *figures.timing;
    const auto varies = [](const TimingError& error) {
        return tr("group delay %1 ms rms, %2 ms at %3 off")
            .arg(fixed_number(error.rms, 3), fixed_number(error.worst, 3),
                 QString::fromStdString(frequency_text(error.worst_hz)));
    };
    if (figures.found == 0) {
        return tr("not fitted: %1 as it is").arg(varies(before));
    }
    const QString now =
        tr("%1; without it %2 ms rms").arg(varies(after), fixed_number(before.rms, 3));
    return spec.delay_ms != 0 ? now + tr("; %1 ms in all").arg(fixed_number(spec.delay_ms, 2))
                              : now;
}

// How much of the impulse response is left over, and what is known of that.
QString impulse_words(const FitFigures::Impulse& impulse) {
    constexpr double nothing = 1e-30;
    const double db = 10 * std::log10(std::max(impulse.energy, nothing));
    QString left = tr("%1 dB of the impulse response is left over").arg(fixed_number(db, 1));
    if (impulse.bound <= 0) {
        return left;
    }
    return left
           + tr(" (nowhere more than %1 dB)").arg(fixed_number(20 * std::log10(impulse.bound), 1));
}

// Of all-passes that match a phase, and what goes with them.
QString phase_words(const FittedSpec& spec, const FitFigures& figures) {
    const auto& [before, after] = *figures.timing;
    const auto off = [](const TimingError& error) {
        return tr("phase %1° rms, %2° at %3 off")
            .arg(fixed_number(error.rms, 1), fixed_number(error.worst, 1),
                 QString::fromStdString(frequency_text(error.worst_hz)));
    };
    if (figures.found == 0) {
        return tr("not fitted: %1 as it is").arg(off(before));
    }
    QString words = tr("%1; without it %2° rms").arg(off(after), fixed_number(before.rms, 1));
    if (spec.delay_samples > 0) {
        words += tr("; %1 samples later").arg(spec.delay_samples);
    }
    return turns_polarity(spec) ? words + tr("; polarity turned") : words;
}

QString level_words(const StageSpec& spec, const FitFigures& figures) {
    const auto& [before, after] = figures.together;
    if (figures.found == 0) {
        return figures.impulse ? tr("not fitted")
                               : tr("not fitted: %1 as it is").arg(error_text(before));
    }
    if (figures.impulse) {
        return impulse_words(*figures.impulse) + "; " + error_text(after);
    }
    return tr("%1; without it %2 dB rms").arg(error_text(after), fixed_number(before.rms_db, 2))
           + timing_words(spec, figures);
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
    const Stage* shown = session.stage(stage);
    if (shown == nullptr) {
        return {};
    }
    const auto* fitted = std::get_if<FittedSpec>(&*shown->spec);
    const bool is_delay =
        fitted != nullptr && fitted->match == FittedMatch::delay && state->figures->timing;
    const bool is_phase =
        fitted != nullptr && fitted->match == FittedMatch::phase && state->figures->timing;
    const QString all = is_delay   ? delay_words(*fitted, *state->figures)
                        : is_phase ? phase_words(*fitted, *state->figures)
                                   : level_words(shown->spec, *state->figures);
    return state->outdated ? QString::fromStdString(state->outdated->text()) + "; " + all : all;
}

FitTrim::FitTrim(Session& session, std::vector<TrimField> fields, QWidget* parent)
    : FieldsTrim(session, std::move(fields), parent), fit_(new QPushButton(tr("Fit"))),
      words_(new QLabel(this)) {
    row()->setSpacing(10);
    row()->insertWidget(row()->count() - 1, fit_, 0, Qt::AlignVCenter);
    fit_->setFixedWidth(72);
    words_->setFont(text_font(11));
    words_->setForegroundRole(QPalette::PlaceholderText);
    connect(fit_, &QPushButton::clicked, this, &FitTrim::press);
    connect(&session.fitter(), &Fitter::changed, this, &FitTrim::tell_state);
}

void FitTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    shown_ = stage.id;
    refused_.clear();
    tell_state();
}

void FitTrim::tell_state() {
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
                                : tr("Find what comes nearest to the target"));
    words_->setText(refused_.isEmpty() ? fit_words(session(), shown_) : refused_);
}

void FitTrim::press() {
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

QString FitTrim::words() const {
    return words_->text();
}

void FitTrim::resizeEvent(QResizeEvent* event) {
    FieldsTrim::resizeEvent(event);
    constexpr int high = 18;
    words_->setGeometry(0, under_fields, width(), high);
}

} // namespace syntonon
