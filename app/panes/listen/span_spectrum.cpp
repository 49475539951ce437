// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/span_spectrum.h"

#include "app/model/hump_commands.h"
#include "app/panes/listen/track_colour.h"
#include "app/plot/lane_labels.h"
#include "app/plot/picture_scale.h"
#include "app/widgets/flat_button.h"
#include "app/widgets/line_text.h"
#include "app/widgets/menu_button.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "app/widgets/words.h"
#include "core/base/units.h"

#include <QFrame>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int spectrum_top = 26, spectrum_bottom = 22;
constexpr double lowest_hz = 15;

QString scale_words(SpectrumScale scale) {
    switch (scale) {
    case SpectrumScale::tone_level:
        return SpanSpectrum::tr("level of a tone, dBFS");
    case SpectrumScale::density:
        return SpanSpectrum::tr("density, dBFS in each Hz");
    case SpectrumScale::ratio:
        break;
    }
    return SpanSpectrum::tr("out over in, dB");
}

WindowShape window_for(SpectrumScale scale) {
    return scale == SpectrumScale::tone_level ? WindowShape::flat_top : WindowShape::hann;
}

// What is worked on beside the window.
struct SpectrumWish {
    BenchStretch stretch;
    SpectrumScale scale;
    SpectrumSettings settings;
    bool whole_transient;
};

Spectrum ratio_of(const SpectrumWish& wish, Track track) {
    const auto in = wish.stretch.values(Track::in), part = wish.stretch.values(track);
    if (!wish.whole_transient) {
        return ratio_spectrum(in, part, wish.stretch.rate_hz, wish.settings);
    }
    std::vector<double> out(part.begin(), part.end());
    const auto& tail = wish.stretch.tails[index_of(track)]->values();
    out.insert(out.end(), tail.begin(), tail.end());
    return transient_ratio(in, out, wish.stretch.rate_hz);
}

SpanSpectrum::Spectra worked_out_from(const SpectrumWish& wish) {
    SpanSpectrum::Spectra made;
    made.scale = wish.scale;
    made.window = wish.settings.window.shape;
    made.made_of = wish.stretch.tracks[index_of(Track::in)];
    const auto part = [&](Track track) { return wish.stretch.values(track); };
    const double rate_hz = wish.stretch.rate_hz;
    if (wish.scale == SpectrumScale::ratio) {
        made.window = wish.whole_transient ? WindowShape::rectangular : made.window;
        for (const Track track : chain_tracks) {
            if (!part(track).empty()) {
                made.tracks[index_of(track)] = ratio_of(wish, track);
            }
        }
        return made;
    }
    for (const Track track : all_tracks) {
        Spectrum& spectrum = made.tracks[index_of(track)];
        spectrum = wish.scale == SpectrumScale::density
                       ? density_spectrum(part(track), rate_hz, wish.settings)
                       : level_spectrum(part(track), rate_hz, wish.settings);
    }
    const Spectrum& of_out = made.tracks[index_of(Track::out)];
    made.humps = humps_of(of_out.db.empty() ? made.tracks[0] : of_out);
    return made;
}

} // namespace

SpanSpectrum::SpanSpectrum(Session& session, BenchWork& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench),
      menu_(menu_button({}, tr("How the spectrum is worked out"), this)), offers_(new QFrame(this)),
      offers_title_(new QLabel) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(150);
    setAccessibleName(tr("Spectrum"));
    setToolTip(tr("Click what stands out, or drag over a band, to make it part of the goal or of "
                  "the chain · wheel: deeper"));
    connect(menu_->menu(), &QMenu::aboutToShow, this, &SpanSpectrum::fill_menu);
    offers_->setObjectName("offers");
    offers_->setFrameShape(QFrame::StyledPanel);
    offers_->setAutoFillBackground(true);
    offers_->hide();
    auto* grid = new QGridLayout(offers_);
    grid->setContentsMargins(10, 6, 10, 6);
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(2);
    offers_title_->setFont(text_font(11, QFont::DemiBold));
    grid->addWidget(offers_title_, 0, 0, 1, 3);
    for (std::size_t i = 0; i < all_hump_offers.size(); ++i) {
        auto* button = new QToolButton;
        button->setObjectName(QStringLiteral("offer_%1").arg(i));
        button->setAutoRaise(true);
        button->setFont(text_font(11));
        grid->addWidget(button, 1 + static_cast<int>(i) / 3, static_cast<int>(i) % 3,
                        Qt::AlignLeft);
        connect(button, &QToolButton::clicked, this, [this, i] {
            if (held_) {
                const Hump hump = *held_;
                hold({});
                take_offer(session_, all_hump_offers[i], hump);
            }
        });
    }
    const auto mark_stale = [this] {
        stale_ = true;
        if (isVisible()) {
            refresh();
        }
    };
    connect(&bench_, &BenchWork::changed, this, [this, mark_stale] {
        if (held_ && !is_of_this_signal()) {
            hold({});
        }
        mark_stale();
    });
    connect(&bench_, &BenchWork::span_changed, this, [this, mark_stale] {
        hold({});
        mark_stale();
    });
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { update(); });
}

void SpanSpectrum::choose(const SpectrumChoices& choices) {
    choices_ = choices;
    refresh();
}

void SpanSpectrum::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (stale_) {
        refresh();
    }
}

void SpanSpectrum::refresh() {
    stale_ = false;
    SpectrumWish wish;
    wish.stretch = bench_.stretch();
    wish.scale = choices_.scale.value_or(usual_scale(bench_.signal().recipe));
    wish.settings.window = {choices_.window.value_or(window_for(wish.scale)), 0, {}};
    wish.settings.window.parameter = parameter_of(wish.settings.window.shape).usual;
    wish.settings.length = choices_.length.value_or(usual_spectrum_length(wish.stretch.length()));
    wish.settings.most_averages = choices_.most_averages;
    wish.whole_transient = !choices_.length && !choices_.window && !bench_.span()
                           && usual_scale(bench_.signal().recipe) == SpectrumScale::ratio;
    constexpr std::size_t at_once = 1 << 16;
    if (samples_in(wish.stretch) <= at_once) {
        work_.stop();
        take(worked_out_from(wish));
        return;
    }
    work_.begin([wish = std::move(wish)](const Watch&) { return worked_out_from(wish); },
                [this](Spectra spectra) { take(std::move(spectra)); });
}

void SpanSpectrum::take(Spectra spectra) {
    const bool other_scale = spectra.scale != spectra_.scale;
    spectra_ = std::move(spectra);
    if (other_scale) {
        hold({});
    }
    choose_range();
    menu_->setText(caption());
    menu_->adjustSize();
    resizeEvent(nullptr);
    update();
    emit worked_out();
}

// The top follows the highest value in steps of 12 dB; how far down is shown stays as chosen.
void SpanSpectrum::choose_range() {
    double highest = -1e9;
    for (const Spectrum& spectrum : spectra_.tracks) {
        for (const double db : spectrum.db) {
            highest = db > highest ? db : highest; // NaN is not
        }
    }
    constexpr double step = 12;
    top_db_ = highest > -300 ? std::ceil(highest / step + 1e-9) * step + 0.0 : 0; // never -0
}

QString SpanSpectrum::caption() const {
    const Spectrum& some = judged();
    const QString what = bench_.span() ? tr("of the stretch") : tr("of all");
    if (some.db.empty()) {
        return tr("Spectrum %1 · %2").arg(what, scale_words(spectra_.scale));
    }
    return tr("Spectrum %1 · %2 · %3 points, %4")
        .arg(what, scale_words(spectra_.scale))
        .arg(some.length)
        .arg(some.averages == 1 ? tr("one transform") : tr("%1 averages").arg(some.averages));
}

const Spectrum& SpanSpectrum::judged() const {
    const Spectrum& out = spectra_.tracks[index_of(Track::out)];
    return out.db.empty() ? spectra_.tracks[0] : out;
}

bool SpanSpectrum::is_of_this_signal() const {
    return spectra_.made_of == bench_.samples(Track::in);
}

// --- where things stand ---

QRectF SpanSpectrum::area() const {
    return {double(bench_left), double(spectrum_top), double(width() - bench_left - bench_right),
            double(height() - spectrum_top - spectrum_bottom)};
}

double SpanSpectrum::x_of(double hz) const {
    const QRectF room = area();
    const double end = bench_.sample_rate_hz() / 2;
    return room.left()
           + room.width() * std::log(std::max(hz, lowest_hz) / lowest_hz)
                 / std::log(end / lowest_hz);
}

double SpanSpectrum::hz_at(double x) const {
    const QRectF room = area();
    const double end = bench_.sample_rate_hz() / 2;
    const double share = std::clamp((x - room.left()) / room.width(), 0.0, 1.0);
    return lowest_hz * std::pow(end / lowest_hz, share);
}

double SpanSpectrum::y_of(double db) const {
    const QRectF room = area();
    const double share = (top_db() - db) / (top_db() - bottom_db());
    return room.top() + std::clamp(share, 0.0, 1.0) * room.height();
}

// One point a pixel: where bins are denser, their mean power, but a line that stands out of it is
// drawn as high as it is.
QPolygonF SpanSpectrum::line_of(const Spectrum& spectrum) const {
    QPolygonF line;
    constexpr double line_db = 10;
    const auto bins = static_cast<double>(spectrum.db.size());
    for (double x = area().left(); x <= area().right() && bins > 1; x += 1) {
        const double low = hz_at(x - 0.5) / spectrum.step_hz,
                     high = hz_at(x + 0.5) / spectrum.step_hz;
        const auto from = static_cast<std::size_t>(std::clamp(std::ceil(low), 0.0, bins - 1));
        const auto to = static_cast<std::size_t>(std::clamp(std::ceil(high), 0.0, bins));
        double db = std::nan("");
        if (to <= from + 1) {
            db = value_at(spectrum, hz_at(x))
                     .value_or(std::isinf(spectrum.db[from]) ? spectrum.db[from] : std::nan(""));
        } else {
            double power = 0, highest = -1e9;
            for (std::size_t k = from; k < to; ++k) {
                power += power_from_db(spectrum.db[k]);
                highest = std::max(highest, spectrum.db[k]);
            }
            const double mean = 10 * std::log10(power / static_cast<double>(to - from));
            db = highest > mean + line_db || spectra_.scale == SpectrumScale::tone_level ? highest
                                                                                         : mean;
        }
        if (!std::isnan(db)) {
            line << QPointF(x, y_of(db));
        }
    }
    return line;
}

// --- painting ---

void SpanSpectrum::paint_grid(QPainter& painter) const {
    const QRectF room = area();
    painter.setFont(text_font(11));
    painter.setPen(theme().grid);
    painter.drawRect(room);
    const double step = shown_db_ > 120 ? 24 : shown_db_ > 50 ? 12 : 6;
    std::vector<ScaleMark> marks;
    for (double db = top_db(); db >= bottom_db() - 1e-6; db -= step) {
        marks.push_back({y_of(db), shown_number(db, 4)});
    }
    paint_scale(painter, room, marks);
    paint_frequencies(
        painter, room, lowest_hz, bench_.sample_rate_hz(), [this](double hz) { return x_of(hz); },
        AcrossLines::at_each);
}

// At the curves' right ends, none on top of another.
void SpanSpectrum::paint_names(QPainter& painter,
                               const std::vector<std::pair<Track, QPolygonF>>& lines) const {
    std::vector<std::pair<double, Track>> ends;
    for (const auto& [track, line] : lines) {
        if (!line.isEmpty()) {
            ends.emplace_back(line.at(line.size() * 39 / 40).y() - 9, track);
        }
    }
    std::ranges::sort(ends);
    constexpr double high = 15;
    double least = area().top() + 2;
    for (auto& [y, track] : ends) {
        y = std::max(y - 8, least);
        least = y + high;
    }
    double most = area().bottom() - high - 1;
    std::for_each(ends.rbegin(), ends.rend(), [&](std::pair<double, Track>& end) {
        end.first = std::min(end.first, most);
        most = end.first - high;
    });
    for (const auto& [y, track] : ends) {
        const QString name = spectra_.scale == SpectrumScale::ratio && track == Track::out
                                 ? tr("out over in")
                                 : bench_.word_for(track);
        const double wide = line_width(painter.font(), name) + 6;
        const QRectF box(area().right() - wide - 4, y, wide, high);
        painter.fillRect(box, shining_through());
        painter.setPen(colour_of(bench_, track));
        draw_line(painter, box, Qt::AlignCenter, name);
    }
}

// What stands out has a small open triangle above it; what is held is a band.
void SpanSpectrum::paint_humps(QPainter& painter) const {
    const Theme& t = theme();
    painter.setPen(QPen(t.copper, 1));
    painter.setBrush(Qt::NoBrush);
    for (const Hump& hump : spectra_.humps) {
        const double x = x_of(hump.at_hz);
        const double y =
            std::max(y_of(value_at(judged(), hump.at_hz).value_or(0)) - 5, area().top() + 8);
        painter.drawPolygon(
            QPolygonF({QPointF(x - 4, y - 7), QPointF(x + 4, y - 7), QPointF(x, y)}));
    }
    if (held_) {
        QColor ground = t.copper;
        ground.setAlphaF(0.14F);
        const double from = std::min(x_of(held_->from_hz), x_of(held_->at_hz) - 1),
                     to = std::max(x_of(held_->to_hz), x_of(held_->at_hz) + 1);
        painter.fillRect(QRectF(from, area().top(), to - from, area().height()), ground);
        painter.drawLine(QPointF(from, area().top()), QPointF(from, area().bottom()));
        painter.drawLine(QPointF(to, area().top()), QPointF(to, area().bottom()));
    }
}

QString SpanSpectrum::pointer_text() const {
    if (!pointer_ || spectra_.tracks[1].db.empty()) {
        return {};
    }
    const double hz = hz_at(*pointer_);
    const bool only_out =
        spectra_.scale == SpectrumScale::ratio && bench_.compared(Track::first_compared).empty();
    QString text = shown_words(frequency_text(hz, 4));
    for (const Track track : all_tracks) {
        const auto value = value_at(spectra_.tracks[index_of(track)], hz);
        if (value) {
            text += QStringLiteral(" · ") + (only_out ? QString() : bench_.word_for(track) + ' ')
                    + fixed_number(*value, 2) + tr(" dB");
        }
    }
    return text;
}

void SpanSpectrum::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    painter.fillRect(rect(), t.panel);
    paint_grid(painter);
    if (!is_of_this_signal()) {
        painter.setPen(t.soft);
        painter.drawText(area(), Qt::AlignCenter, tr("being worked out"));
        return;
    }
    std::vector<std::pair<Track, QPolygonF>> lines;
    painter.setRenderHint(QPainter::Antialiasing);
    painter.save();
    painter.setClipRect(area());
    for (const Track track : {Track::in, Track::reference, Track::difference,
                              Track::second_compared, Track::first_compared, Track::out}) {
        const Spectrum& spectrum = spectra_.tracks[index_of(track)];
        if (!spectrum.db.empty()) {
            lines.emplace_back(track, line_of(spectrum));
            painter.setPen(QPen(colour_of(bench_, track), 1));
            draw_thin_line(painter, lines.back().second);
        }
    }
    painter.restore();
    paint_humps(painter);
    painter.setFont(text_font(11));
    paint_names(painter, lines);
    if (const QString text = pointer_text(); !text.isEmpty() && offers_->isHidden()) {
        painter.setPen(t.hairline);
        painter.drawLine(QPointF(*pointer_, area().top()), QPointF(*pointer_, area().bottom()));
        const double wide = line_width(painter.font(), text) + 12;
        const QRectF box(std::clamp(*pointer_ - wide / 2, area().left(),
                                    std::max(area().left(), area().right() - wide)),
                         area().bottom() + 3, wide, 17);
        painter.fillRect(box, t.raised);
        painter.setPen(t.text);
        draw_line(painter, box, Qt::AlignCenter, text);
    }
}

// --- by hand ---

void SpanSpectrum::resizeEvent(QResizeEvent* event) {
    if (event != nullptr) {
        QWidget::resizeEvent(event);
    }
    menu_->move(width() - bench_right - menu_->width(), 1);
    place_offers();
}

void SpanSpectrum::hold(std::optional<Hump> hump) {
    held_ = hump;
    show_offers();
    update();
}

void SpanSpectrum::hold_greatest() {
    hold(spectra_.humps.empty() ? std::nullopt : std::optional(spectra_.humps.front()));
}

void SpanSpectrum::show_offers() {
    offers_->setVisible(held_.has_value() && !pressed_at_);
    if (!held_) {
        return;
    }
    offers_title_->setText(text_of(*held_));
    for (std::size_t i = 0; i < all_hump_offers.size(); ++i) {
        auto* button = offers_->findChild<QToolButton*>(QStringLiteral("offer_%1").arg(i));
        button->setText(words_for(all_hump_offers[i], *held_));
        button->setVisible(can_take(session_, all_hump_offers[i], *held_));
        QPalette colours = button->palette();
        colours.setColor(QPalette::ButtonText, theme().copper);
        button->setPalette(colours);
    }
    offers_->adjustSize();
    place_offers();
}

// Beside the band, on the side that has more room.
void SpanSpectrum::place_offers() {
    if (!held_) {
        return;
    }
    constexpr double apart = 8;
    const double from = x_of(held_->from_hz), to = x_of(held_->to_hz);
    const double room_right = area().right() - to, wide = offers_->width();
    const double x = room_right > wide + apart ? to + apart
                     : from - wide - apart > area().left()
                         ? from - wide - apart
                         : std::max(area().left(), area().right() - wide);
    offers_->move(static_cast<int>(x), static_cast<int>(area().top()) + 6);
}

void SpanSpectrum::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && area().contains(event->position())
        && spectra_.scale != SpectrumScale::ratio && !judged().db.empty() && is_of_this_signal()) {
        pressed_at_ = event->position().x();
    }
}

void SpanSpectrum::mouseMoveEvent(QMouseEvent* event) {
    const double x = event->position().x();
    pointer_ = x >= area().left() && x <= area().right() ? std::optional(x) : std::nullopt;
    constexpr double is_a_drag = 4;
    if (pressed_at_ && std::abs(x - *pressed_at_) >= is_a_drag) {
        const auto [a, b] = std::minmax(*pressed_at_, x);
        hold(hump_between(judged(), hz_at(a), hz_at(b)));
    }
    update();
}

void SpanSpectrum::mouseReleaseEvent(QMouseEvent* event) {
    if (!pressed_at_) {
        return;
    }
    constexpr double is_a_drag = 4;
    const bool dragged = std::abs(event->position().x() - *pressed_at_) >= is_a_drag;
    const double hz = hz_at(*pressed_at_);
    pressed_at_.reset();
    if (dragged) {
        show_offers();
    } else {
        hold(hump_at(spectra_.humps, hz));
    }
}

void SpanSpectrum::wheelEvent(QWheelEvent* event) {
    const double clicks = event->angleDelta().y() / 120.0;
    constexpr double step = 12, least = 24, most = 240;
    shown_db_ = std::clamp(shown_db_ - clicks * step, least, most);
    update();
    event->accept();
}

void SpanSpectrum::leaveEvent(QEvent*) {
    pointer_.reset();
    update();
}

void SpanSpectrum::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && held_) {
        pressed_at_.reset();
        hold({});
        return;
    }
    // The arrow keys go from one thing that stands out to the next.
    const int by = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (by != 0 && !spectra_.humps.empty()) {
        std::vector<Hump> humps = spectra_.humps;
        std::ranges::sort(humps, {}, &Hump::at_hz);
        const double at = held_ ? held_->at_hz : by > 0 ? 0 : 1e9;
        const auto next =
            by > 0 ? std::ranges::find_if(humps, [&](const Hump& h) { return h.at_hz > at; })
                   : std::find_if(humps.rbegin(), humps.rend(), [&](const Hump& h) {
                         return h.at_hz < at;
                     }).base();
        if (by > 0 && next != humps.end()) {
            hold(*next);
        } else if (by < 0 && next != humps.begin()) {
            hold(*(next - 1));
        }
        return;
    }
    QWidget::keyPressEvent(event);
}

void SpanSpectrum::fill_menu() {
    QMenu& menu = *menu_->menu();
    menu.clear();
    const auto add = [&](QMenu& to, const QString& text, bool chosen, SpectrumChoices choices) {
        QAction* action = to.addAction(text, this, [this, choices] { choose(choices); });
        action->setCheckable(true);
        action->setChecked(chosen);
    };
    const auto with = [&](auto member, auto value) {
        SpectrumChoices changed = choices_;
        changed.*member = value;
        return changed;
    };
    using Choices = SpectrumChoices;
    add(menu, tr("What suits the signal"), !choices_.scale,
        with(&Choices::scale, std::optional<SpectrumScale>()));
    for (const SpectrumScale scale :
         {SpectrumScale::tone_level, SpectrumScale::density, SpectrumScale::ratio}) {
        add(menu, capitalised(scale_words(scale)), choices_.scale == scale,
            with(&Choices::scale, std::optional(scale)));
    }
    menu.addSeparator();
    QMenu& windows = *menu.addMenu(tr("Window"));
    add(windows, tr("What suits the scale"), !choices_.window,
        with(&Choices::window, std::optional<WindowShape>()));
    for (const auto& shape : names_of_windows()) {
        if (shape.value != WindowShape::drawn) {
            add(windows, QString::fromUtf8(shape.title.data(), qsizetype(shape.title.size())),
                choices_.window == shape.value, with(&Choices::window, std::optional(shape.value)));
        }
    }
    QMenu& lengths = *menu.addMenu(tr("Points"));
    add(lengths, tr("What suits the stretch"), !choices_.length,
        with(&Choices::length, std::optional<std::size_t>()));
    for (std::size_t length = 256; length <= 262'144; length *= 2) {
        add(lengths, QString::number(length), choices_.length == length,
            with(&Choices::length, std::optional(length)));
    }
    QMenu& averages = *menu.addMenu(tr("Averages"));
    for (const std::size_t most :
         {std::size_t(0), std::size_t(1), std::size_t(4), std::size_t(16), std::size_t(64)}) {
        add(averages, most == 0 ? tr("As many as fit") : tr("At most %1").arg(most),
            choices_.most_averages == most, with(&Choices::most_averages, most));
    }
}

} // namespace syntonon
