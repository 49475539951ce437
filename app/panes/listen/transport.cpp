// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/transport.h"

#include "app/panes/listen/ask_sound_file.h"
#include "app/widgets/flat_button.h"
#include "app/widgets/menu_button.h"
#include "app/widgets/said.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {

// RMS as a bar, the peak as a stroke that falls slowly, and how often the limiter held.
class LevelMeter : public QWidget {
public:
    LevelMeter() {
        setFixedSize(100, 30);
        setAccessibleName(tr("Level of what is played"));
        setToolTip(tr("Bar: root mean square · stroke: peak · number: samples that were held below "
                      "full scale"));
    }
    void show_meters(const PlayerMeters& meters, bool plays) {
        constexpr double fall_db = 1.2; // a tick
        const double peak = meters.peak > 0 ? db_from_ratio(meters.peak) : -infinity;
        peak_db_ = plays ? std::max(peak, peak_db_ - fall_db) : -infinity;
        // A full-scale sine reads 0.
        rms_db_ = plays && meters.rms > 0 ? db_from_ratio(meters.rms * std::sqrt(2.0)) : -infinity;
        held_ = meters.clipped;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        const Theme& t = theme();
        const QRectF bar(0, 3, width() - 1, 8);
        painter.setPen(t.hairline);
        painter.drawRect(bar);
        const auto x_of = [&](double db) {
            constexpr double lowest = -60;
            return bar.left() + std::clamp(1 - db / lowest, 0.0, 1.0) * bar.width();
        };
        painter.fillRect(QRectF(bar.topLeft(), QPointF(x_of(rms_db_), bar.bottom())), t.met);
        painter.setPen(QPen(t.text, 1));
        if (std::isfinite(peak_db_)) {
            painter.drawLine(QPointF(x_of(peak_db_), bar.top() - 2),
                             QPointF(x_of(peak_db_), bar.bottom() + 2));
        }
        painter.setFont(text_font(11));
        painter.setPen(t.soft);
        const QRectF below(0, 13, width(), 16);
        painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter,
                         std::isfinite(peak_db_) ? tr("%1 dBFS").arg(fixed_number(peak_db_, 1))
                                                 : QStringLiteral("−∞"));
        if (held_ > 0) {
            painter.setPen(t.not_met);
            painter.drawText(below, Qt::AlignRight | Qt::AlignVCenter, tr("◇ %1 held").arg(held_));
        }
    }

private:
    double peak_db_ = -infinity, rms_db_ = -infinity;
    std::uint64_t held_ = 0;
};

Transport::Transport(Session& session, Listening& listening, QWidget* parent)
    : QWidget(parent), session_(session), listening_(listening), play_(new QToolButton),
      device_(menu_button({}, tr("Sound device, rate and block size"))),
      save_(flat_button(tr("save…"), tr("Save what is chosen here as a sound file"))),
      loop_(new QCheckBox(tr("loop"))), match_(new QCheckBox(tr("equally loud"))),
      row_(new QHBoxLayout), volume_(new QSlider(Qt::Horizontal)), volume_text_(new QLabel),
      state_(new QLabel), meter_(new LevelMeter) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 6, 16, 6);
    column->setSpacing(4);
    auto* upper = new QHBoxLayout;
    upper->setSpacing(10);
    play_->setAccessibleName(tr("Play or stop"));
    play_->setToolTip(tr("Play or stop (Space)"));
    play_->setFixedSize(58, 26);
    upper->addWidget(play_);
    loop_->setToolTip(tr("Again and again: the selected stretch, or all"));
    upper->addWidget(loop_);
    row_->setSpacing(4);
    upper->addLayout(row_, 1);
    upper->addWidget(save_);
    column->addLayout(upper);
    auto* lower = new QHBoxLayout;
    lower->setSpacing(10);
    match_->setToolTip(tr("Each is turned down to the quietest one's loudness (ITU-R BS.1770)"));
    lower->addWidget(match_);
    constexpr int lowest = -60, slider_width = 80;
    volume_->setRange(lowest, 0);
    volume_->setFixedWidth(slider_width);
    volume_->setAccessibleName(tr("Volume in dB"));
    volume_->setToolTip(volume_->accessibleName());
    lower->addWidget(volume_);
    volume_text_->setFixedWidth(44);
    lower->addWidget(volume_text_);
    lower->addWidget(meter_);
    lower->addStretch(1);
    lower->addWidget(device_);
    column->addLayout(lower);
    state_->setFont(text_font(11));
    state_->setWordWrap(true);
    state_->setObjectName("sound_problem");
    column->addWidget(state_);
    follow();
    refresh();
}

void Transport::follow() {
    connect(play_, &QToolButton::clicked, this,
            [this] { listening_.play(!listening_.is_playing()); });
    connect(loop_, &QCheckBox::clicked, this, [this](bool on) { listening_.set_loops(on); });
    connect(match_, &QCheckBox::clicked, this, [this](bool on) { listening_.set_matched(on); });
    connect(volume_, &QSlider::valueChanged, this, [this](int db) {
        if (db != std::lround(listening_.volume_db())) {
            listening_.set_volume_db(db);
        }
    });
    connect(save_, &QToolButton::clicked, this, &Transport::ask_and_save);
    connect(&saving_, &SaveSound::reported, this, &Transport::show_state);
    connect(device_->menu(), &QMenu::aboutToShow, this, &Transport::fill_devices);
    connect(&listening_, &Listening::changed, this, &Transport::refresh);
    connect(&listening_, &Listening::ticked, this, [this] {
        meter_->show_meters(listening_.meters(), listening_.is_playing());
        show_device();
    });
}

QString Transport::state() const {
    return state_->text();
}

void Transport::rebuild_choices() {
    shown_ = listening_.choices();
    for (QToolButton* button : choices_) {
        button->hide();
        button->deleteLater();
    }
    choices_.clear();
    while (row_->count() > 0) {
        delete row_->takeAt(0);
    }
    for (std::size_t i = 0; i < shown_.size(); ++i) {
        auto* button = new QToolButton;
        button->setCheckable(true);
        constexpr int longest = 14;
        const QString name = shown_[i].name;
        button->setText(name.size() > longest ? name.left(longest - 1) + QStringLiteral("…")
                                              : name);
        button->setAccessibleName(tr("Listen to %1").arg(name));
        button->setFixedHeight(26);
        connect(button, &QToolButton::clicked, this, [this, i] { listening_.choose(i); });
        row_->addWidget(button);
        choices_.push_back(button);
    }
    row_->addStretch(1);
}

void Transport::refresh() {
    if (shown_ != listening_.choices()) {
        rebuild_choices();
    }
    const bool plays = listening_.is_playing();
    play_->setText(plays ? tr("■ stop") : tr("▶ play"));
    loop_->setChecked(listening_.loops());
    match_->setChecked(listening_.is_matched());
    for (std::size_t i = 0; i < choices_.size(); ++i) {
        choices_[i]->setChecked(i == listening_.chosen() && !listening_.is_hidden());
        const double gain = listening_.gain_db(i);
        choices_[i]->setToolTip(
            tr("%1, turned by %2 dB").arg(shown_[i].name, fixed_number(gain, 1)));
    }
    volume_->setValue(static_cast<int>(std::lround(listening_.volume_db())));
    volume_text_->setText(tr("%1 dB").arg(shown_number(std::round(listening_.volume_db()), 3)));
    show_state();
    show_device();
    meter_->show_meters(listening_.meters(), plays);
}

// What is wrong with playing, and what became of saving.
void Transport::show_state() {
    QStringList lines;
    if (!listening_.problem().isEmpty()) {
        lines.append(QStringLiteral("◇ ") + listening_.problem());
    }
    if (!saving_.report().isEmpty()) {
        lines.append(saving_.report());
    }
    say_on(*state_, lines.join('\n'), !listening_.problem().isEmpty() || saving_.has_failed());
    state_->setVisible(!lines.isEmpty());
}

void Transport::ask_and_save() {
    const QString name =
        tr("%1, %2").arg(listening_.signal_name(), listening_.choices()[listening_.chosen()].name);
    if (const auto file = ask_sound_file(this, name, Dithering::triangular)) {
        save(file->path, file->wish);
    }
}

void Transport::save(const QString& path, const SoundFormatWish& wish) {
    listening_.save_chosen(saving_, path, wish);
}

// What it plays on, or would; short, and all of it in the hint.
void Transport::show_device() {
    const QString state = listening_.state_text();
    const QString wished =
        listening_.device().isEmpty() ? tr("default device") : listening_.device();
    constexpr int longest = 15;
    const QString name =
        wished.size() > longest ? wished.left(longest - 1) + QStringLiteral("…") : wished;
    device_->setText(tr("%1 · %2").arg(name).arg(listening_.frames()));
    device_->setToolTip(
        tr("Sound device, rate and block size: %1").arg(state.isEmpty() ? wished : state));
}

void Transport::fill_devices() {
    QMenu& menu = *device_->menu();
    menu.clear();
    const auto add = [&](const QString& text, bool chosen, auto take) {
        QAction* action = menu.addAction(text, this, take);
        action->setCheckable(true);
        action->setChecked(chosen);
    };
    const auto outputs = sound_outputs();
    if (outputs.empty()) {
        menu.addAction(tr("No sound device is there"))->setEnabled(false);
    }
    const QString device = listening_.device();
    const unsigned block = listening_.frames();
    const double rate_hz = listening_.rate_hz();
    add(tr("The default device"), device.isEmpty(),
        [this, block, rate_hz] { listening_.use_device({}, block, rate_hz); });
    for (const SoundPort& output : outputs) {
        const QString name = QString::fromStdString(output.name);
        add(name, name == device,
            [this, name, block, rate_hz] { listening_.use_device(name, block, rate_hz); });
    }
    menu.addSeparator();
    for (const unsigned frames : {64U, 128U, 256U, 512U, 1024U, 2048U}) {
        add(tr("Blocks of %1 frames").arg(frames), frames == block,
            [this, device, frames, rate_hz] { listening_.use_device(device, frames, rate_hz); });
    }
    menu.addSeparator();
    add(tr("At the study's rate, or what is nearest"), rate_hz == 0,
        [this, device, block] { listening_.use_device(device, block, 0); });
    const auto chosen = std::ranges::find_if(outputs, [&](const SoundPort& output) {
        return device.isEmpty() ? output.is_default : device == output.name.c_str();
    });
    for (const double hz : chosen != outputs.end() ? chosen->rates_hz : std::vector<double>()) {
        const bool is_own = hz == session_.study().sample_rate_hz;
        add((is_own ? tr("At %1 kHz") : tr("Converted to %1 kHz")).arg(hz / 1000), hz == rate_hz,
            [this, device, block, hz] { listening_.use_device(device, block, hz); });
    }
}

} // namespace syntonon
