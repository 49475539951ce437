// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/correction/fit_channels_pane.h"

#include "app/model/correction_commands.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/study/alignment.h"
#include "core/study/kinds.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace syntonon {

struct FitChannelsPane::Made {
    Study study;
    std::map<std::string, FitFigures, std::less<>> figures; // by channel
};

FitChannelsPane::FitChannelsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), table_(new QTableWidget),
      align_(new QCheckBox(tr("Align their level and arrival afterwards"))),
      fit_(new QPushButton(tr("Fit these"))), words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(4, 4, 4, 6);
    column->setSpacing(4);
    column->addWidget(table_, 1);
    auto* options = new QHBoxLayout;
    options->setContentsMargins(beside_page, 0, beside_page, 0);
    options->addWidget(align_);
    column->addLayout(options);
    align_->setToolTip(
        tr("By their gain and delay stages at the chains' ends, 200 Hz to 5 kHz, "
           "as on the Measure desk: as loud as the quietest, as late as the latest"));
    auto* row = new QHBoxLayout;
    row->setContentsMargins(beside_page, 0, beside_page, 0);
    row->addWidget(fit_);
    row->addWidget(words_, 1);
    column->addLayout(row);
    set_up_rows(*table_,
                {tr("channel"), tr("rms"), tr("then"), tr("worst then"), tr("at"), tr("verdict")});
    title_numbers(*table_, {1, 2, 3, 4, 5});
    set_up_reading(*table_, beside_page);
    table_->setAccessibleName(tr("Channels to be fitted with the same settings"));
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (const int wide : {1, 2, 3, 4, 5}) {
        table_->setColumnWidth(wide, wide < 3 ? 46 : wide == 4 ? 64 : 78);
    }
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    fit_->setToolTip(tr("Every ticked channel gets this correction's settings and is fitted, "
                        "in one step"));
    constexpr int showing_ms = 80;
    showing_.setInterval(showing_ms);
    connect(&showing_, &QTimer::timeout, this, &FitChannelsPane::tell_state);
    connect(table_, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
        if (item->column() == 0) {
            unticked_[item->data(Qt::UserRole).toString().toStdString()] =
                item->checkState() != Qt::Checked;
            tell_state();
        }
    });
    connect(fit_, &QPushButton::clicked, this, &FitChannelsPane::press);
    connect(&session_, &Session::analysis_changed, this, &FitChannelsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &FitChannelsPane::refresh);
    refresh();
}

void FitChannelsPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

QString FitChannelsPane::words() const {
    return words_->text();
}

// Channels with a measured set and a goal; the others could not be fitted.
void FitChannelsPane::refresh() {
    const QSignalBlocker blocker(table_);
    if (!isVisible()) { // chains are analysed for their verdicts only where one sees them
        return;
    }
    table_->setRowCount(0);
    for (const auto& channel : session_.study().channels) {
        if (channel->measured.empty() || channel->goal.empty()) {
            continue;
        }
        const int row = table_->rowCount();
        table_->insertRow(row);
        auto* name = text_cell(QString::fromStdString(channel->name), false);
        name->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        name->setCheckState(unticked_[channel->id] ? Qt::Unchecked : Qt::Checked);
        name->setData(Qt::UserRole, QString::fromStdString(channel->id));
        table_->setItem(row, 0, name);
        const Verdict& verdict = session_.analysis_of(*channel)->verdict;
        const auto met = std::ranges::count(verdict, Outcome::met, &Finding::outcome);
        auto* judged = text_cell(tr("%1 of %2 met").arg(met).arg(verdict.size()), true);
        judged->setForeground(is_met(verdict) ? theme().met : theme().not_met);
        table_->setItem(row, 5, judged);
        if (const auto found = figures_.find(channel->id); found != figures_.end()) {
            const auto& [before, after] = found->second.together;
            const QStringList numbers{fixed_number(before.rms_db, 2), fixed_number(after.rms_db, 2),
                                      fixed_number(after.worst_db, 1),
                                      QString::fromStdString(frequency_text(after.worst_hz))};
            for (int i = 0; i < numbers.size(); ++i) {
                table_->setItem(row, i + 1, text_cell(numbers[i], true));
            }
        }
    }
    tell_state();
}

std::vector<std::string> FitChannelsPane::ticked() const {
    std::vector<std::string> ids;
    for (int row = 0; row < table_->rowCount(); ++row) {
        const QTableWidgetItem* name = table_->item(row, 0);
        if (name->checkState() == Qt::Checked) {
            ids.push_back(name->data(Qt::UserRole).toString().toStdString());
        }
    }
    return ids;
}

void FitChannelsPane::tell_state() {
    const auto count = static_cast<qint64>(ticked().size());
    fit_->setText(is_busy() ? tr("Stop") : tr("Fit these"));
    fit_->setEnabled(is_busy() || (count > 0 && selected_correction(session_) != nullptr));
    words_->setText(is_busy()             ? tr("fitting: %1 %").arg(std::lround(100 * work_.done()))
                    : !refused_.isEmpty() ? refused_
                                          : counted(count, "channel with these settings",
                                                    "channels with these settings"));
}

void FitChannelsPane::press() {
    if (is_busy()) {
        work_.stop();
        showing_.stop();
        if (const auto made = so_far_->last()) {
            take(from_, *made);
            if (refused_.isEmpty()) {
                refused_ = tr("Stopped: %1 of them done.").arg(made->figures.size());
            }
        } else {
            refused_ = tr("Stopped; nothing was changed.");
        }
        tell_state();
        return;
    }
    begin();
}

// One after the other; what stands by then is put into `so_far`.
Expected<FitChannelsPane::Made> FitChannelsPane::fit_all(const WithRecipe& recipe,
                                                         const std::vector<std::string>& to_align,
                                                         SoFar<Made>& so_far, const Watch& watch) {
    Briefs briefs;
    Made made{recipe.study, {}};
    for (const FitPlace& place : recipe.places) {
        auto fitted = fitted_anew(made.study, {place}, briefs,
                                  watch.part_of(made.figures.size(), recipe.places.size()));
        if (!fitted) {
            return tl::unexpected(fitted.error());
        }
        made.study = *std::move(fitted);
        const Channel& of = *channel_of(made.study, place.channel);
        const auto figures =
            briefs.fit_brief(made.study, of, place.stage).and_then([&](const Brief& brief) {
                return figures_of_fit(stage_of(of, place.stage)->spec, brief);
            });
        if (!figures) {
            return tl::unexpected(figures.error());
        }
        made.figures.insert_or_assign(place.channel, *figures);
        so_far.put(made);
    }
    if (!to_align.empty()) {
        align_channels(made.study, to_align, briefs);
    }
    return made;
}

void FitChannelsPane::begin() {
    const Channel* channel = session_.channel();
    const auto channels = ticked();
    if (channel == nullptr || selected_correction(session_) == nullptr || channels.empty()) {
        return;
    }
    refused_.clear();
    const WithRecipe recipe =
        with_recipe(session_.study(), {channel->id, session_.stage()->id}, channels);
    from_ = session_.study();
    so_far_ = std::make_shared<SoFar<Made>>();
    work_.begin(
        [recipe, channels, aligns = align_->isChecked(), so_far = so_far_](const Watch& watch) {
            return fit_all(recipe, aligns ? channels : std::vector<std::string>(), *so_far, watch);
        },
        [this](const Expected<Made>& made) {
            showing_.stop();
            take(from_, made);
        });
    showing_.start();
    tell_state();
}

void FitChannelsPane::take(const Study& from, const Expected<Made>& made) {
    if (!made) {
        refused_ = QString::fromStdString(to_text(made.error()));
    } else if (!is_same_ground(from, session_.study())) {
        refused_ = tr("The channels were changed meanwhile: fit once more.");
    } else {
        figures_ = made->figures;
        const auto count = static_cast<qint64>(made->figures.size());
        session_.edit(
            tr("Fit %1 with the same settings").arg(counted(count, "channel", "channels")),
            [&](Study& study) {
                for (std::size_t i = 0; i < study.channels.size(); ++i) {
                    if (made->figures.contains(study.channels[i]->id)) {
                        study.channels[i] = made->study.channels[i];
                    }
                }
            });
    }
    refresh();
}

} // namespace syntonon
