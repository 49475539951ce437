// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/levels_page.h"

#include "app/widgets/copied_cells.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "core/goal/time_answer.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <cmath>
#include <numeric>
#include <vector>

namespace syntonon {
namespace {

// A step's answer is the sum of the impulse response that time_answer.h reads.
void add_step_figures(const BenchStretch& all, BenchFigures& figures) {
    std::vector<double> answer = all.tracks[static_cast<std::size_t>(Track::out)]->values();
    const auto& tail = all.tail->values();
    answer.insert(answer.end(), tail.begin(), tail.end());
    std::adjacent_difference(answer.begin(), answer.end(), answer.begin());
    constexpr double part = 0.01;
    if (!answer.empty()) {
        figures.overshoot = overshoot(answer);
        figures.settling_samples = settling_samples(answer, part);
    }
}

BenchFigures figures_of(const BenchStretch& stretch, bool is_step) {
    BenchFigures figures;
    for (const Track track : all_tracks) {
        figures.levels[static_cast<std::size_t>(track)] =
            levels_of(stretch.values(track), stretch.rate_hz);
    }
    const auto in = stretch.values(Track::in), reference = stretch.values(Track::reference);
    figures.has_reference = !reference.empty();
    const auto base = figures.has_reference ? reference : in;
    if (figures.has_reference) {
        figures.against[static_cast<std::size_t>(Track::in)] = against_reference(in, base);
    }
    figures.against[static_cast<std::size_t>(Track::out)] =
        against_reference(stretch.values(Track::out), base);
    if (is_step) {
        add_step_figures(stretch, figures);
    }
    return figures;
}

QString with_unit(const std::optional<double>& value, int places, const char* unit) {
    return value ? fixed_number(*value, places) + QStringLiteral(" ") + LevelsPage::tr(unit)
                 : QStringLiteral("–");
}

QString delay_text(double samples) {
    const double shown = std::abs(samples) < 0.005 ? 0 : samples;
    return fixed_number(shown, std::abs(shown - std::round(shown)) < 0.005 ? 0 : 2)
           + LevelsPage::tr(" samples");
}

} // namespace

LevelsPage::LevelsPage(BenchWork& bench, QWidget* parent) : QTableWidget(parent), bench_(bench) {
    constexpr int close_rows = 21;
    set_up_rows(*this, {QString(), tr("in"), tr("out"), tr("reference"), tr("difference")},
                close_rows);
    set_up_reading(*this, beside_page);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    title_numbers(*this, {1, 2, 3, 4});
    setAccessibleName(tr("Levels of the signals"));
    const auto mark_stale = [this] {
        stale_ = true;
        if (isVisible()) {
            refresh();
        }
    };
    connect(&bench_, &BenchWork::changed, this, mark_stale);
    connect(&bench_, &BenchWork::span_changed, this, mark_stale);
}

void LevelsPage::showEvent(QShowEvent* event) {
    QTableWidget::showEvent(event);
    if (stale_) {
        refresh();
    }
}

void LevelsPage::refresh() {
    stale_ = false;
    const BenchStretch stretch = bench_.stretch();
    const bool is_step = std::holds_alternative<StepRecipe>(bench_.signal().recipe);
    constexpr std::size_t at_once = 1 << 14;
    if (stretch.length() + stretch.tail->values().size() <= at_once) {
        work_.stop();
        take(figures_of(stretch, is_step));
        return;
    }
    work_.begin([stretch, is_step](const Watch&) { return figures_of(stretch, is_step); },
                [this](const BenchFigures& figures) { take(figures); });
}

void LevelsPage::take(const BenchFigures& figures) {
    figures_ = figures;
    int row = 0;
    const auto put = [&](const QString& name, const QString& tip, const PerTrack<QString>& texts) {
        setRowCount(std::max(rowCount(), row + 1));
        for (int column = 0; column < columnCount(); ++column) {
            if (item(row, column) == nullptr) {
                setItem(row, column, new QTableWidgetItem);
            }
            QTableWidgetItem* cell = item(row, column);
            cell->setText(column == 0 ? name : texts.at(static_cast<std::size_t>(column) - 1));
            cell->setTextAlignment((column == 0 ? Qt::AlignLeft : Qt::AlignRight)
                                   | Qt::AlignVCenter);
            cell->setToolTip(tip);
        }
        ++row;
    };
    const auto levels = [&](std::optional<double> SignalLevels::*which, int places,
                            const char* unit) {
        PerTrack<QString> texts;
        for (std::size_t i = 0; i < all_tracks.size(); ++i) {
            texts[i] = with_unit(figures.levels[i].*which, places, unit);
        }
        return texts;
    };
    put(tr("level"), tr("Mean power, against a full-scale sine's"),
        levels(&SignalLevels::level_db, 2, "dBFS"));
    put(tr("peak"), tr("The greatest sample"), levels(&SignalLevels::peak_db, 2, "dBFS"));
    put(tr("true peak"), tr("Of the wave between the samples (ITU-R BS.1770)"),
        levels(&SignalLevels::true_peak_db, 2, "dBFS"));
    put(tr("loudness"), tr("Integrated and gated (ITU-R BS.1770)"),
        levels(&SignalLevels::loudness_lufs, 2, "LUFS"));
    put(tr("crest factor"), tr("Peak over root mean square"),
        levels(&SignalLevels::crest_db, 2, "dB"));
    PerTrack<QString> beyond;
    for (std::size_t i = 0; i < all_tracks.size(); ++i) {
        beyond[i] = figures.levels[i].level_db
                        ? QString::number(figures.levels[i].beyond_full_scale)
                        : QStringLiteral("–");
    }
    put(tr("beyond full scale"), tr("Samples whose magnitude is more than 1"), beyond);
    const auto against = [&](auto text) {
        PerTrack<QString> texts;
        texts.fill(QStringLiteral("–"));
        for (std::size_t i = 0; i < 2; ++i) {
            if (figures.against[i]) {
                texts[i] = text(*figures.against[i]);
            }
        }
        return texts;
    };
    if (figures.has_reference) {
        put(tr("signal to noise"),
            tr("The reference, as late and as loud as in the signal, over all else in it"),
            against([](const AgainstReference& a) {
                return with_unit(a.signal_to_noise_db, 2, "dB");
            }));
        put(tr("residual"), tr("Signal minus reference as it is, over the reference"),
            against([](const AgainstReference& a) { return with_unit(a.residual_db, 2, "dB"); }));
    }
    put(tr("delay"),
        figures.has_reference ? tr("Against the reference, where they correlate most")
                              : tr("Against the input, where they correlate most"),
        against([&](const AgainstReference& a) { return delay_text(a.delay_samples); }));
    const auto only_out = [](const QString& text) {
        return PerTrack<QString>{QStringLiteral("–"), text, QStringLiteral("–"),
                                 QStringLiteral("–")};
    };
    if (figures.settling_samples) {
        put(tr("overshoot"), tr("Beyond the step's final value"),
            only_out(figures.overshoot ? fixed_number(*figures.overshoot * 100, 2) + tr(" %")
                                       : QStringLiteral("–")));
        put(tr("settling"), tr("From then on within 1 % of the final value"),
            only_out(delay_text(*figures.settling_samples)));
    }
    setRowCount(row);
    setColumnHidden(4, bench_.values(Track::difference).empty());
    emit worked_out();
}

void LevelsPage::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Copy)) {
        copy_chosen_cells(*this);
    } else {
        QTableWidget::keyPressEvent(event);
    }
}

} // namespace syntonon
