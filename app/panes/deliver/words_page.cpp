// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/words_page.h"

#include "app/model/delivery_commands.h"
#include "app/plot/level_plot.h"
#include "app/widgets/said.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <iterator>

namespace syntonon {
namespace {

constexpr int search_often_ms = 120;
constexpr double shown_from_hz = 10;

struct Fact {
    QString what, value, tip;
    bool is_bad = false;
};

QString db_text(double db) {
    return std::isfinite(db) ? fixed_number(db, 1) + QObject::tr(" dB") : QObject::tr("none");
}

QString node_name(const NodeLevel& level, std::size_t sections) {
    return level.section >= sections
               ? QObject::tr("the FIR")
               : QObject::tr("section %1, %2").arg(level.section + 1).arg(text_of(level.sum));
}

Fact noise_fact(const WordFacts& facts) {
    if (!facts.noise || !std::isfinite(facts.noise->level_dbfs)) {
        return {QObject::tr("noise of rounding"), QObject::tr("none"), {}};
    }
    const double bits = facts.noise->drowned_bits;
    return {
        QObject::tr("noise of rounding"),
        QObject::tr("%1 dBFS").arg(fixed_number(facts.noise->level_dbfs, 1)),
        bits > 0
            ? QObject::tr("As loud as if the signal had %1 bits less").arg(fixed_number(bits, 1))
            : QObject::tr("Below the signal's own rounding")};
}

// The three norms where the tightest place is for a sine.
void add_headroom(const WordFacts& facts, std::size_t sections, std::vector<Fact>& all) {
    const NodeLevel* tight = tightest(facts.levels);
    if (tight == nullptr || !std::isfinite(tight->holds)) {
        return;
    }
    const QString where = node_name(*tight, sections);
    all.push_back({QObject::tr("room for a sine"), db_text(tight->room_for_tone_db()),
                   QObject::tr("At full scale, until %1 overflows (greatest gain)").arg(where),
                   tight->room_for_tone_db() < 0});
    const auto least = [&](auto room) {
        double lowest = std::numeric_limits<double>::infinity();
        for (const NodeLevel& level : facts.levels) {
            lowest = std::min(lowest, (level.*room)());
        }
        return lowest;
    };
    all.push_back({QObject::tr("room for any signal"), db_text(least(&NodeLevel::room_for_any_db)),
                   QObject::tr("No signal within full scale overflows anything that has room here "
                               "(sum of the answer's magnitudes)")});
    all.push_back({QObject::tr("room for white noise"),
                   db_text(least(&NodeLevel::room_for_noise_db)),
                   QObject::tr("Of its root mean square (root of the answer's energy)")});
}

Fact cycle_fact(const WordFacts& facts) {
    const LimitCycle* loudest = nullptr;
    std::size_t where = 0;
    const auto& of_sections = facts.cycles->of_sections;
    for (std::size_t i = 0; i < of_sections.size(); ++i) {
        if (of_sections[i] && (loudest == nullptr || of_sections[i]->peak > loudest->peak)) {
            loudest = &*of_sections[i];
            where = i;
        }
    }
    if (loudest == nullptr || loudest->peak == 0) {
        return {QObject::tr("limit cycles"), QObject::tr("none found"),
                QObject::tr("From %1 states with a silent input").arg(facts.cycles->tried)};
    }
    return {QObject::tr("limit cycles"),
            QObject::tr("%1 dBFS").arg(fixed_number(20 * std::log10(loudest->peak), 1)),
            loudest->by_overflow
                ? QObject::tr("Section %1 keeps running over with a silent input").arg(where + 1)
            : loudest->period == 1
                ? QObject::tr("Section %1 stays at a value with a silent input").arg(where + 1)
                : QObject::tr("Section %1 swings every %2 samples with a silent input")
                      .arg(where + 1)
                      .arg(loudest->period),
            loudest->by_overflow};
}

std::vector<Fact> facts_of(const WordsResult& result) {
    const WordFacts& facts = *result.facts;
    std::vector<Fact> all;
    const QString where = QString::fromStdString(frequency_text(facts.deviation.worst_hz));
    all.push_back({QObject::tr("deviation of level"),
                   QObject::tr("%1 dB at %2").arg(shown_number(facts.deviation.worst_db, 2), where),
                   QObject::tr("The greatest, from 20 Hz to 0.45 of the rate")});
    if (!facts.is_stable) {
        all.push_back({QObject::tr("stability"), QObject::tr("not stable"), {}, true});
        return all;
    }
    all.push_back(noise_fact(facts));
    add_headroom(facts, result.chain.sections.size(), all);
    if (facts.cycles && result.chain.section_words.is_fixed()) {
        all.push_back(cycle_fact(facts));
    }
    return all;
}

} // namespace

WordsPage::WordsPage(Session& session, WordsWork& work, QWidget* parent)
    : QWidget(parent), session_(session), work_(work), status_(new QLabel),
      search_(new QPushButton(tr("Search words"))), nearest_(new QPushButton(tr("Take nearest"))),
      facts_(new QTableWidget), sources_(new QTableWidget), spectrum_(new LevelPlot) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 10, 16, 8);
    column->setSpacing(6);
    auto* row = new QHBoxLayout;
    row->addWidget(search_);
    row->addWidget(nearest_);
    row->addStretch(1);
    column->addLayout(row);
    search_->setToolTip(tr("Words around the nearest ones whose errors cancel, so that the verdict "
                           "suffers least; gains and order are shared out anew"));
    nearest_->setToolTip(tr("Each number the word nearest to it"));
    status_->setWordWrap(true);
    status_->setObjectName("words_status");
    column->addWidget(status_);
    set_up_rows(*facts_, {tr("of this channel"), tr("value")});
    set_up_rows(*sources_, {tr("what makes the noise"), tr("at the output")});
    for (QTableWidget* table : {facts_, sources_}) {
        set_up_reading(*table);
        table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
        table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
        title_numbers(*table, {1});
        column->addWidget(table, table == facts_ ? 0 : 2);
    }
    spectrum_->set_title(tr("Noise of rounding, dBFS of each Hz"));
    spectrum_->setAccessibleName(tr("Spectrum of the noise of rounding"));
    column->addWidget(spectrum_, 2);
    facts_->setAccessibleName(tr("Facts of the words"));
    sources_->setAccessibleName(tr("Sources of noise"));
    progress_.setInterval(search_often_ms);
    connect(&progress_, &QTimer::timeout, this, &WordsPage::show_search);
    connect(search_, &QPushButton::clicked, this,
            [this] { work_.is_searching() ? work_.stop_search() : work_.search(); });
    connect(nearest_, &QPushButton::clicked, this, [this] {
        edit_delivery(session_, delivery_, tr("nearest words"),
                      [](Delivery& delivery) { delivery.searched = false; });
    });
    connect(&work_, &WordsWork::search_changed, this, &WordsPage::show_search);
    connect(&work_, &WordsWork::search_failed, this,
            [this](const QString& why) { say(QStringLiteral("◇ ") + why, true); });
}

QString WordsPage::status() const {
    return status_->text();
}

void WordsPage::say(const QString& words, bool is_problem) {
    say_on(*status_, words, is_problem);
}

void WordsPage::show_search() {
    const Delivery* delivery = delivery_of(session_.study(), delivery_);
    const bool is_searching = work_.is_searching();
    search_->setText(is_searching ? tr("Stop, %1 %").arg(qRound(100 * work_.search_done()))
                                  : tr("Search words"));
    search_->setEnabled(delivery != nullptr && !delivery->processor.empty());
    nearest_->setEnabled(delivery != nullptr && delivery->searched && !is_searching);
    if (is_searching != progress_.isActive()) {
        is_searching ? progress_.start() : progress_.stop();
    }
    const auto result = work_.result();
    if (delivery == nullptr || delivery->processor.empty()) {
        say(tr("Choose a processor on the page Layout: its words and what they do stand here."),
            false);
    } else if (result != nullptr && result->is_out_of_date) {
        say(tr("◇ The searched words are out of date: search again."), true);
    } else if (result != nullptr && result->is_searched) {
        say(tr("● Searched words."), false);
    } else {
        say(tr("Nearest words."), false);
    }
}

void WordsPage::show_result(const std::string& delivery) {
    delivery_ = delivery;
    show_search();
    show_facts();
    show_sources();
    show_spectrum();
}

void WordsPage::show_facts() {
    const auto result = work_.result();
    const std::vector<Fact> all =
        result != nullptr && result->facts ? facts_of(*result) : std::vector<Fact>();
    facts_->setRowCount(static_cast<int>(all.size()));
    for (int row = 0; row < facts_->rowCount(); ++row) {
        const Fact& fact = all[static_cast<std::size_t>(row)];
        auto* what = new QTableWidgetItem(fact.what);
        auto* value = new QTableWidgetItem(fact.value);
        value->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        if (fact.is_bad) {
            value->setForeground(theme().not_met);
            value->setText(QStringLiteral("◇ ") + fact.value);
        }
        for (QTableWidgetItem* item : {what, value}) {
            item->setToolTip(fact.tip);
        }
        facts_->setItem(row, 0, what);
        facts_->setItem(row, 1, value);
    }
    // All of them are seen; what makes the noise may scroll.
    const int title = facts_->horizontalHeader()->sizeHint().height();
    facts_->setFixedHeight(title + facts_->verticalHeader()->length() + 2 * facts_->frameWidth()
                           + 1);
}

void WordsPage::show_spectrum() {
    const auto result = work_.result();
    const bool has_noise = result != nullptr && result->facts && result->facts->noise
                           && std::isfinite(result->facts->noise->level_dbfs);
    spectrum_->setVisible(has_noise);
    if (has_noise) {
        const OutputNoise& noise = *result->facts->noise;
        const auto first = std::ranges::lower_bound(noise.frequency_hz, shown_from_hz)
                           - noise.frequency_hz.begin();
        spectrum_->show_levels({noise.frequency_hz.begin() + first, noise.frequency_hz.end()},
                               {{tr("at the output"),
                                 {noise.density_db.begin() + first, noise.density_db.end()},
                                 theme().ink}});
    }
}

void WordsPage::show_sources() {
    const auto result = work_.result();
    const bool has_noise = result != nullptr && result->facts && result->facts->noise;
    const auto& sources = has_noise ? result->facts->noise->sources : std::vector<NoiseSource>();
    constexpr std::size_t most = 40;
    sources_->setVisible(has_noise && !sources.empty());
    sources_->setRowCount(static_cast<int>(std::min(sources.size(), most)));
    for (int row = 0; row < sources_->rowCount(); ++row) {
        const NoiseSource& source = sources[static_cast<std::size_t>(row)];
        const bool is_fir = source.section >= result->chain.sections.size();
        const QString name =
            is_fir ? tr("the FIR's sum")
            : source.sum == "out"
                ? tr("section %1, its output").arg(source.section + 1)
                : tr("section %1, sum %2").arg(source.section + 1).arg(text_of(source.sum));
        auto* level = new QTableWidgetItem(tr("%1 dBFS").arg(fixed_number(source.level_dbfs, 1)));
        level->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        sources_->setItem(row, 0, new QTableWidgetItem(name));
        sources_->setItem(row, 1, level);
    }
}

} // namespace syntonon
