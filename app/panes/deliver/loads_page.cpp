// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/loads_page.h"

#include "app/widgets/said.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>
#include <utility>

namespace syntonon {
namespace {

constexpr int loads_often_ms = 120;

enum Column { taps, way, here, memory, late, cycles, its_words, its_late };

QString percent(double share) {
    constexpr double exact_below = 10;
    const double value = 100 * share;
    return QObject::tr("%1 %").arg(value, 0, 'f', value < exact_below ? 1 : 0);
}

QString kilobytes(std::size_t bytes) {
    return QString::number(std::ceil(static_cast<double>(bytes) / 1000), 'f', 0);
}

void name_columns(const QTableWidget& table) {
    const std::pair<int, QString> names[] = {
        {here, QObject::tr("Of one core of this machine, as it is played")},
        {memory, QObject::tr("Memory of the engine on this machine")},
        {late, QObject::tr("Samples until it is out: the block, and what the way adds")},
        {cycles, QObject::tr("Cycles of a sample by the processor's profile")},
        {its_words, QObject::tr("Words of memory by the processor's profile")},
        {its_late, QObject::tr("Samples until it is out, by the processor's profile")}};
    for (const auto& [column, name] : names) {
        table.horizontalHeaderItem(column)->setToolTip(name);
    }
}

} // namespace

LoadsPage::LoadsPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), taps_(new QLineEdit), frames_(new QSpinBox),
      measure_(new QPushButton(tr("Measure"))), words_(new QLabel), table_(new QTableWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    auto* row = new QHBoxLayout;
    const auto caption = [&](const QString& text, QWidget* of) {
        auto* label = new QLabel(text);
        label->setBuddy(of);
        row->addWidget(label);
        row->addWidget(of, of == taps_ ? 1 : 0);
    };
    caption(tr("taps"), taps_);
    caption(tr("blocks of"), frames_);
    row->addWidget(measure_);
    column->addLayout(row);
    words_->setWordWrap(true);
    words_->setFont(text_font(11));
    column->addWidget(words_);
    QStringList usual;
    for (const std::size_t count : usual_tap_counts()) {
        usual << QString::number(count);
    }
    taps_->setText(usual.join(", "));
    taps_->setCursorPosition(0);
    taps_->setAccessibleName(tr("Numbers of taps"));
    taps_->setToolTip(tr("How long the FIRs are that are measured, parted by commas"));
    constexpr int most_frames = 65536, usual_frames = 64;
    frames_->setRange(1, most_frames);
    frames_->setValue(usual_frames);
    frames_->setAccessibleName(tr("Frames of a block"));
    set_up_rows(*table_, {tr("taps"), tr("way"), tr("here"), tr("kB"), tr("late"), tr("cycles"),
                          tr("words"), tr("late")});
    set_up_reading(*table_);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    title_numbers(*table_, {taps, here, memory, late, cycles, its_words, its_late});
    name_columns(*table_);
    table_->setAccessibleName(tr("Direct and block convolution on this machine and the processor"));
    column->addWidget(table_, 1);
    measure_->setToolTip(tr("Noise through such FIRs, by both ways, in such blocks"));
    progress_.setInterval(loads_often_ms);
    connect(&progress_, &QTimer::timeout, this, &LoadsPage::show_progress);
    connect(measure_, &QPushButton::clicked, this, &LoadsPage::measure);
    connect(taps_, &QLineEdit::returnPressed, this, &LoadsPage::measure);
    use_processor(nullptr, usual_frames);
}

QString LoadsPage::words() const {
    return words_->text();
}

void LoadsPage::use_processor(const Processor* processor, int block_frames) {
    const auto now = processor != nullptr ? std::optional(*processor) : std::nullopt;
    if (now && !(processor_ == now) && block_frames > 1) { // else it works sample by sample
        frames_->setValue(block_frames);
    }
    processor_ = now;
    for (const int column : {cycles, its_words, its_late}) {
        table_->setColumnHidden(column, !processor_);
    }
    show_loads();
}

void LoadsPage::measure() {
    if (work_.is_busy()) {
        work_.stop();
        show_progress();
        return;
    }
    const auto counts = tap_counts_from(taps_->text().toStdString());
    if (!counts) {
        say_on(*words_, QStringLiteral("◇ ") + QString::fromStdString(to_text(counts.error())),
               true);
        return;
    }
    const double rate_hz = session_.study().sample_rate_hz;
    const int frames = frames_->value();
    asked_ = *counts;
    std::set<std::size_t> all(asked_.begin(), asked_.end());
    all.insert({8, 16, 32, 64, 128}); // where the one way begins to be cheaper than the other
    work_.begin(
        [counts = std::vector(all.begin(), all.end()), frames, rate_hz](const Watch& watch) {
            return measured_loads(counts, static_cast<std::size_t>(frames), rate_hz, watch);
        },
        [this, frames](const Expected<std::vector<ConvolutionLoad>>& loads) {
            show_progress();
            if (loads) {
                loads_ = *loads;
                frames_of_loads_ = frames;
                show_loads();
            }
        });
    progress_.start();
    show_progress();
}

void LoadsPage::show_progress() {
    const bool is_busy = work_.is_busy();
    measure_->setText(is_busy ? tr("Stop, %1 %").arg(qRound(100 * work_.done())) : tr("Measure"));
    if (!is_busy) {
        progress_.stop();
    }
}

// Where blocks begin to be cheaper, here and on the processor.
QString LoadsPage::break_evens() const {
    const auto measured = break_even_taps(loads_);
    const bool always = !loads_.empty() && loads_.front().block < loads_.front().direct;
    QString text = always     ? tr("Here blocks are cheaper at any length")
                   : measured ? tr("Here blocks are cheaper from about %1 taps on").arg(*measured)
                              : tr("Here a direct sum is cheaper for all of these");
    if (processor_) {
        const auto by_profile = break_even_taps(*processor_, frames_of_loads_);
        const QString name = QString::fromStdString(processor_->name);
        text += by_profile ? tr("; on %1 from %2 taps on").arg(name).arg(*by_profile)
                           : tr("; on %1 they never are").arg(name);
    }
    return text + QStringLiteral(".");
}

void LoadsPage::show_row(int row, const QStringList& texts, bool is_cheaper) {
    for (int column = 0; column < table_->columnCount(); ++column) {
        auto* item = new QTableWidgetItem(texts.value(column));
        item->setTextAlignment((column == way ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter);
        item->setFont(text_font(11, is_cheaper ? QFont::DemiBold : QFont::Normal));
        table_->setItem(row, column, item);
    }
}

void LoadsPage::show_loads() {
    if (loads_.empty()) {
        say_on(*words_,
               tr("Of this machine's core, with the engines that play, and by the profile of "
                  "the delivery's processor."),
               false);
        return;
    }
    std::vector<ConvolutionLoad> shown;
    std::ranges::copy_if(loads_, std::back_inserter(shown), [this](const ConvolutionLoad& load) {
        return std::ranges::find(asked_, load.taps) != asked_.end();
    });
    table_->setRowCount(2 * static_cast<int>(shown.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const ConvolutionLoad& load = shown[static_cast<std::size_t>(row / 2)];
        const bool is_block = row % 2 == 1;
        QStringList texts = {is_block ? QString() : QString::number(load.taps),
                             is_block ? tr("block") : tr("direct"),
                             percent(is_block ? load.block : load.direct),
                             kilobytes(is_block ? load.block_bytes : load.direct_bytes),
                             QString::number(frames_of_loads_)};
        if (processor_) {
            const auto cost = is_block ? block_cost(load.taps, *processor_, frames_of_loads_)
                                       : std::optional(direct_cost(load.taps, *processor_));
            texts << (cost ? QString::number(std::ceil(cost->cycles), 'f', 0) : tr("–"))
                  << (cost ? QString::number(cost->coefficient_words + cost->state_words, 'f', 0)
                           : QString())
                  << (cost ? QString::number(frames_of_loads_ + cost->added_latency_samples, 'f', 0)
                           : QString());
        }
        show_row(row, texts, is_block == (load.block < load.direct));
    }
    say_on(*words_, break_evens(), false);
}

} // namespace syntonon
