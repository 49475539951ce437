// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/levels_page.h"

#include "app/widgets/copied_cells.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "core/engine/render.h"
#include "core/goal/time_answer.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <algorithm>
#include <cmath>
#include <numeric>
#include <vector>

namespace syntonon {
namespace {

// A step's answer is the sum of the impulse response that time_answer.h reads.
void add_step_figures(const BenchStretch& all, Track track, BenchFigures& figures) {
    std::vector<double> answer = all.tracks[index_of(track)]->values();
    const auto& tail = all.tails[index_of(track)]->values();
    answer.insert(answer.end(), tail.begin(), tail.end());
    std::adjacent_difference(answer.begin(), answer.end(), answer.begin());
    constexpr double part = 0.01;
    if (!answer.empty()) {
        figures.overshoot[index_of(track)] = overshoot(answer);
        figures.settling_samples[index_of(track)] = settling_samples(answer, part);
    }
}

// What a chain does to the wanted signal is no noise: it is told apart by sending the reference
// through the same chain. The residual is against the reference as it is.
std::optional<AgainstReference> held_against_reference(const BenchStretch& stretch, Track track,
                                                       const Watch& watch) {
    const auto part = stretch.values(track);
    auto found = against_reference(part, stretch.values(Track::reference));
    const auto& chain = stretch.chains[index_of(track)];
    const auto& reference = stretch.tracks[index_of(Track::reference)]->values();
    if (!found || !chain || !chain->is_stable()) {
        return found;
    }
    const auto through = render(*chain, reference, 0, watch);
    const auto wanted = through ? against_reference(part, stretch.part_of(through->out))
                                : std::optional<AgainstReference>();
    if (wanted) {
        found->signal_to_noise_db = wanted->signal_to_noise_db;
    }
    return found;
}

BenchFigures figures_of(const BenchStretch& stretch, bool is_step, const Watch& watch) {
    BenchFigures figures;
    for (const Track track : all_tracks) {
        figures.levels[index_of(track)] = levels_of(stretch.values(track), stretch.rate_hz);
    }
    const auto in = stretch.values(Track::in), reference = stretch.values(Track::reference);
    figures.has_reference = !reference.empty();
    if (figures.has_reference) {
        figures.against[index_of(Track::in)] = against_reference(in, reference);
    }
    for (const Track track : chain_tracks) {
        figures.against[index_of(track)] = figures.has_reference
                                               ? held_against_reference(stretch, track, watch)
                                               : against_reference(stretch.values(track), in);
        if (is_step) {
            add_step_figures(stretch, track, figures);
        }
    }
    return figures;
}

// Parts of a sample only where there are some.
QString samples_text(double samples) {
    const double shown = std::abs(samples) < 0.005 ? 0 : samples;
    return fixed_number(shown, std::abs(shown - std::round(shown)) < 0.005 ? 0 : 2);
}

struct FigureRow {
    QString name, tip;
    PerTrack<QString> texts;
};
using FigureRows = std::vector<FigureRow>;

// What `value_in` finds of each track's part, or a dash.
template <class Part, class ValueIn, class Text>
PerTrack<QString> texts_of(const PerTrack<Part>& parts, ValueIn value_in, Text text) {
    PerTrack<QString> texts;
    std::ranges::transform(parts, texts.begin(), [&](const Part& part) {
        const auto value = value_in(part);
        return value ? text(*value) : QStringLiteral("–");
    });
    return texts;
}

QString two_places(double value) {
    return fixed_number(value, 2);
}

void add_levels(const BenchFigures& figures, FigureRows& rows) {
    const auto add = [&](const QString& name, const QString& tip, auto which) {
        rows.push_back({name, tip,
                        texts_of(
                            figures.levels, [=](const auto& l) { return l.*which; }, two_places)});
    };
    const auto tr = [](const char* text) { return LevelsPage::tr(text); };
    add(tr("level, dBFS"), tr("Mean power, against a full-scale sine's"), &SignalLevels::level_db);
    add(tr("peak, dBFS"), tr("The greatest sample"), &SignalLevels::peak_db);
    add(tr("true peak, dBFS"), tr("Of the wave between the samples (ITU-R BS.1770)"),
        &SignalLevels::true_peak_db);
    add(tr("loudness, LUFS"), tr("Integrated and gated (ITU-R BS.1770)"),
        &SignalLevels::loudness_lufs);
    add(tr("crest factor, dB"), tr("Peak over root mean square"), &SignalLevels::crest_db);
    const auto beyond = [](const SignalLevels& levels) {
        return levels.level_db ? std::optional(levels.beyond_full_scale) : std::nullopt;
    };
    rows.push_back({tr("beyond full scale"), tr("Samples whose magnitude is more than 1"),
                    texts_of(figures.levels, beyond, [](auto n) { return QString::number(n); })});
}

void add_against(const BenchFigures& figures, FigureRows& rows) {
    const auto add = [&](const QString& name, const QString& tip, auto which, auto text) {
        const auto value_in = [=](const std::optional<AgainstReference>& against) {
            return against ? std::optional((*against).*which) : std::nullopt;
        };
        rows.push_back({name, tip, texts_of(figures.against, value_in, text)});
    };
    const auto tr = [](const char* text) { return LevelsPage::tr(text); };
    if (figures.has_reference) {
        add(tr("signal to noise, dB"),
            tr("The reference, sent through the same chain, over all else that is there"),
            &AgainstReference::signal_to_noise_db, two_places);
        add(tr("residual, dB"), tr("Signal less the reference as it is, over the reference"),
            &AgainstReference::residual_db, two_places);
    }
    add(tr("delay, samples"),
        figures.has_reference ? tr("Against the reference, where they correlate most")
                              : tr("Against the input, where they correlate most"),
        &AgainstReference::delay_samples, samples_text);
}

void add_answers(const BenchFigures& figures, FigureRows& rows) {
    const auto itself = [](const std::optional<double>& value) { return value; };
    rows.push_back({LevelsPage::tr("overshoot, %"), LevelsPage::tr("Beyond the step's final value"),
                    texts_of(figures.overshoot, itself,
                             [](double share) { return fixed_number(share * 100, 2); })});
    rows.push_back({LevelsPage::tr("settling, samples"),
                    LevelsPage::tr("From then on within 1 % of the final value"),
                    texts_of(figures.settling_samples, itself, samples_text)});
}

} // namespace

LevelsPage::LevelsPage(BenchWork& bench, QWidget* parent) : QTableWidget(parent), bench_(bench) {
    constexpr int close_rows = 21;
    set_up_rows(*this, QStringList(1 + static_cast<int>(all_tracks.size())), close_rows);
    set_up_reading(*this, beside_page);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    horizontalHeader()->setTextElideMode(Qt::ElideRight);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    title_numbers(*this, {1, 2, 3, 4, 5, 6});
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
    if (samples_in(stretch) <= at_once) {
        work_.stop();
        take(figures_of(stretch, is_step, Watch()));
        return;
    }
    work_.begin(
        [stretch, is_step](const Watch& watch) { return figures_of(stretch, is_step, watch); },
        [this](const BenchFigures& figures) { take(figures); });
}

void LevelsPage::take(const BenchFigures& figures) {
    figures_ = figures;
    FigureRows rows;
    add_levels(figures, rows);
    add_against(figures, rows);
    if (figures.settling_samples[index_of(Track::out)]) {
        add_answers(figures, rows);
    }
    setRowCount(static_cast<int>(rows.size()));
    for (int row = 0; row < rowCount(); ++row) {
        const FigureRow& shown = rows[static_cast<std::size_t>(row)];
        put(row, 0, shown.name, shown.tip);
        for (std::size_t i = 0; i < all_tracks.size(); ++i) {
            put(row, 1 + static_cast<int>(i), shown.texts[i], shown.tip);
        }
    }
    for (const Track track : all_tracks) {
        const int column = 1 + static_cast<int>(index_of(track));
        horizontalHeaderItem(column)->setText(bench_.word_for(track));
        setColumnHidden(column, !bench_.is_wished(track));
    }
    emit worked_out();
}

void LevelsPage::put(int row, int column, const QString& text, const QString& tip) {
    if (item(row, column) == nullptr) {
        setItem(row, column, new QTableWidgetItem);
    }
    QTableWidgetItem* cell = item(row, column);
    cell->setText(text);
    cell->setTextAlignment((column == 0 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
    cell->setToolTip(tip);
}

void LevelsPage::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Copy)) {
        copy_chosen_cells(*this);
    } else {
        QTableWidget::keyPressEvent(event);
    }
}

} // namespace syntonon
