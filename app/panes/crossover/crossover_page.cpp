// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/crossover/crossover_page.h"

#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

constexpr int most_ways = static_cast<int>(most_crossover_frequencies) + 1;
constexpr double least_hz = 20, most_hz = 20'000;
constexpr std::size_t points = 300;

QString shown_name(const Study& study, const std::string& channel) {
    const Channel* found = channel_of(study, channel);
    return found != nullptr ? text_of(found->name) : QString();
}

int index_of_channel(const Study& study, const std::string& id) {
    return static_cast<int>(
        std::ranges::find(study.channels, id, [](const auto& channel) { return channel->id; })
        - study.channels.begin());
}

} // namespace

CrossoverPlot::CrossoverPlot(QWidget* parent) : QWidget(parent) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(220, 90);
    setAccessibleName(tr("The ways of the crossover and their sum"));
}

void CrossoverPlot::show_picture(std::optional<CrossoverPicture> picture) {
    picture_ = std::move(picture);
    update();
}

void CrossoverPlot::show_form(CrossoverForm form) {
    form_ = form;
    update();
}

void CrossoverPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().ground);
    painter.setFont(text_font(11));
    if (picture_) {
        paint_crossover(painter, rect(), *picture_, form_, theme());
        return;
    }
    painter.setPen(theme().soft);
    painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
                     tr("No way of it can be designed."));
}

CrossoverPage::CrossoverPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), adds_up_(new QCheckBox),
      by_range_(new QPushButton(tr("Others by range"))),
      align_(new QPushButton(tr("Align as measured"))), form_(new QComboBox),
      angle_(new QuantityEdit(Dimension::plain, tr("°"))), plot_(new CrossoverPlot),
      words_(new QLabel) {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    for (int way = 1; way <= most_ways; ++way) {
        rows_.push_back(make_row(way));
        grid->addWidget(rows_.back().name, way - 1, 0);
        grid->addWidget(rows_.back().channel, way - 1, 1);
        grid->addWidget(rows_.back().height, way - 1, 2);
    }
    grid->setColumnStretch(1, 1);
    auto* below = new QHBoxLayout;
    form_->addItems({tr("Level"), tr("Phase"), tr("Delay"), tr("Lobes")});
    form_->setAccessibleName(tr("What is shown of the sum"));
    angle_->setAccessibleName(tr("Off axis by"));
    angle_->setToolTip(tr("Upwards, far away: a source that stands higher is nearer there"));
    constexpr int angle_width = 56;
    angle_->setFixedWidth(angle_width);
    angle_->show_value(angle_deg_);
    below->addWidget(form_);
    auto* caption = new QLabel(tr("off axis"));
    caption->setBuddy(angle_);
    below->addWidget(caption);
    below->addWidget(angle_);
    below->addWidget(words_, 1);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 6, 8, 6);
    column->setSpacing(5);
    column->addLayout(grid);
    column->addLayout(make_choices());
    column->addWidget(plot_, 1);
    column->addLayout(below);
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    connect(adds_up_, &QCheckBox::clicked, this, [this](bool on) {
        edit_crossover(session_, on ? tr("Let the ways of %1 add up") : tr("Let the ways of %1 be"),
                       [on](CrossoverSpec& spec) {
                           (is_filled_at_will(spec.family) ? spec.filled : spec.delayed) = on;
                       });
    });
    connect(align_, &QPushButton::clicked, this, [this] {
        if (const auto done = align_ways(session_); !done) {
            words_->setText(
                QString::fromStdString(done.error().reason + ": " + done.error().way_out));
        }
    });
    connect(form_, &QComboBox::currentIndexChanged, this,
            [this](int index) { plot_->show_form(static_cast<CrossoverForm>(index)); });
    connect(angle_, &QuantityEdit::value_entered, this,
            [this](std::optional<double> value) { look_from(value.value_or(0)); });
    connect(&session_, &Session::analysis_changed, this, &CrossoverPage::refresh);
    connect(&session_, &Session::selection_changed, this, &CrossoverPage::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &CrossoverPage::refresh);
}

QLayout* CrossoverPage::make_choices() {
    auto* choices = new QHBoxLayout;
    choices->addWidget(adds_up_);
    choices->addStretch(1);
    choices->addWidget(by_range_);
    choices->addWidget(align_);
    by_range_->setToolTip(
        tr("The other measured channels have the ways that stand nowhere, by where "
           "each of them plays: the lowest first"));
    connect(by_range_, &QPushButton::clicked, this, [this] { give_ways_by_range(session_); });
    align_->setToolTip(tr("Gains and delays at the ends of the ways’ chains, by what was measured "
                          "of each in the middle of its band: as loud as the quietest, as late as "
                          "the latest"));
    return choices;
}

CrossoverPage::Row CrossoverPage::make_row(int way) {
    Row row{new QLabel, new QComboBox, new QuantityEdit(Dimension::plain, tr("m"))};
    constexpr int height_width = 72;
    row.height->setFixedWidth(height_width);
    row.height->setToolTip(tr("How high the middle of its source stands, above any common point"));
    row.channel->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    connect(row.channel, &QComboBox::activated, this,
            [this, way](int index) { choose_channel(way, index); });
    connect(row.height, &QuantityEdit::value_entered, this,
            [this, way](std::optional<double> value) {
                if (const auto& place = places_.at(at(way))) {
                    set_height(session_, *place, value.value_or(0));
                }
            });
    return row;
}

bool CrossoverPage::is_there(const Session& session) {
    return selected_crossover(session) != nullptr;
}

void CrossoverPage::look_from(double angle_deg) {
    constexpr double farthest = 90;
    angle_deg_ = std::clamp(angle_deg, -farthest, farthest);
    angle_->show_value(angle_deg_);
    show_sum();
}

QString CrossoverPage::words() const {
    return words_->text();
}

// None, the study's channels, a new one.
void CrossoverPage::choose_channel(int way, int index) {
    const auto& channels = session_.study().channels;
    if (index == 0) {
        take_way(session_, way);
    } else {
        const auto place = static_cast<std::size_t>(index) - 1;
        give_way(session_, way, place < channels.size() ? channels[place]->id : std::string());
    }
    refresh(); // also where nothing came of it
}

void CrossoverPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void CrossoverPage::refresh() {
    const auto asking = selected_way(session_);
    if (!isVisible() || !asking) {
        return;
    }
    const CrossoverSpec& spec = *selected_crossover(session_);
    places_ = ways_around(session_.study(), *asking);
    for (int way = 1; way <= most_ways; ++way) {
        show_row(way, spec);
    }
    by_range_->setVisible(!ways_by_range(session_.study(), *asking, session_.briefs()).empty());
    const bool is_subtractive = spec.family == CrossoverFamily::subtractive;
    adds_up_->setVisible(is_filled_at_will(spec.family) || is_subtractive);
    adds_up_->setText(is_subtractive ? tr("From the delayed input") : tr("Phase filled in"));
    adds_up_->setToolTip(
        is_subtractive ? tr("The high-pass is the input, as late as the low-pass, less that: "
                            "steeper than without the delay, and all ways add up to it")
                       : tr("Each way passes the all-passes of the splits that it has no part "
                            "in, so that three ways and more add up"));
    adds_up_->setEnabled(is_subtractive || spec.frequencies_hz.size() > 1);
    adds_up_->setChecked(is_subtractive ? spec.delayed : spec.filled);
    show_sum();
}

void CrossoverPage::show_row(int way, const CrossoverSpec& spec) {
    const Row& row = rows_[at(way)];
    const bool is_there = way <= ways_of(spec);
    row.name->setVisible(is_there);
    row.channel->setVisible(is_there);
    row.height->setVisible(is_there);
    if (!is_there) {
        return;
    }
    const QString name = QString::fromStdString(way_name(way, ways_of(spec)));
    row.name->setText(name);
    row.channel->setAccessibleName(tr("Channel of the way %1").arg(name));
    row.height->setAccessibleName(tr("Height of the way %1").arg(name));
    row.channel->clear();
    row.channel->addItem(tr("no channel"));
    for (const auto& channel : session_.study().channels) {
        row.channel->addItem(text_of(channel->name));
    }
    row.channel->addItem(tr("a new channel"));
    const auto& place = places_[at(way)];
    row.channel->setCurrentIndex(place ? 1 + index_of_channel(session_.study(), place->channel)
                                       : 0);
    row.channel->setEnabled(way != spec.way); // it is this one
    row.height->setEnabled(place.has_value());
    row.height->show_value(place ? crossover_at(session_.study(), *place)->height_m : 0);
}

std::vector<WayHeard> CrossoverPage::heard() const {
    std::vector<WayHeard> ways;
    for (const auto& place : places_) {
        if (place) {
            const Study& study = session_.study();
            const Channel& channel = *channel_of(study, place->channel);
            ways.push_back({session_.briefs().design(study, channel).filter,
                            session_.briefs().measured_of(study, channel).value_or(nullptr),
                            crossover_at(study, *place)->height_m});
        }
    }
    return ways;
}

void CrossoverPage::show_sum() {
    const auto ways = heard();
    const double end_hz = std::min(most_hz, 0.99 * session_.axis().end_hz());
    const auto grid = FrequencyGrid::logarithmic(least_hz, end_hz, points, session_.axis());
    if (ways.empty() || !grid) {
        plot_->show_picture(std::nullopt);
        return;
    }
    CrossoverPicture picture = picture_of(SummedWays(ways, *grid), angle_deg_);
    auto way = picture.ways.begin();
    for (const auto& place : places_) {
        if (place) {
            const Channel& channel = *channel_of(session_.study(), place->channel);
            way->name = shown_name(session_.study(), place->channel);
            way->colour = channel_colour(QString::fromStdString(channel.colour),
                                         index_of_channel(session_.study(), place->channel));
            ++way;
        }
    }
    words_->setText(sum_words(picture, are_measured(ways)));
    plot_->show_picture(std::move(picture));
}

QString CrossoverPage::sum_words(const CrossoverPicture& picture, bool is_measured) const {
    const auto missing = std::ranges::count_if(places_, [](const auto& place) { return !place; });
    if (missing > 0) {
        return tr("%1 of %2 ways have no channel").arg(missing).arg(places_.size());
    }
    double low = infinity, high = -infinity;
    for (std::size_t i = 0; i < picture.hz.size(); ++i) {
        if (std::isfinite(picture.on_axis.level_db[i])) {
            low = std::min(low, picture.on_axis.level_db[i]);
            high = std::max(high, picture.on_axis.level_db[i]);
        }
    }
    const double within = (high - low) / 2;
    constexpr double rounding = 1e-6;
    const QString flat = within < rounding
                             ? tr("the sum is flat")
                             : tr("the sum is within ±%1 dB").arg(shown_number(within, 2));
    return (is_measured ? tr("as measured: ") : tr("chains alone: ")) + flat;
}

} // namespace syntonon
