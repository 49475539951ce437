// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/waveform_stack.h"

#include "app/model/compared_chains.h"
#include "app/panes/listen/track_colour.h"
#include "app/widgets/flat_button.h"
#include "app/widgets/line_text.h"
#include "app/widgets/menu_button.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"

#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <iterator>

namespace syntonon {
namespace {

constexpr int stack_top = 6, title_height = 20, row_gap = 4, axis_height = 20;
constexpr double grip_pixels = 5;

} // namespace

WaveformStack::WaveformStack(Session& session, BenchWork& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench),
      scale_(flat_button(tr("one scale"), tr("All rows on one scale, or each on its own"))),
      difference_(flat_button(tr("difference"), tr("Show the output less the reference"))),
      compare_(menu_button(tr("compare"), tr("See and hear takes and other channels beside"))) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(170);
    setAccessibleName(tr("Waveforms"));
    setToolTip(tr("Drag: select a stretch · wheel: more or less of the time · Shift and wheel: "
                  "along it · double click: all"));
    scale_->setParent(this);
    scale_->setCheckable(true);
    connect(scale_, &QToolButton::clicked, this, [this](bool one) {
        one_scale_ = one;
        update();
    });
    difference_->setParent(this);
    difference_->setCheckable(true);
    connect(difference_, &QToolButton::clicked, &bench_, &BenchWork::show_difference);
    compare_->setParent(this);
    connect(compare_->menu(), &QMenu::aboutToShow, this, &WaveformStack::fill_compare_menu);
    connect(&bench_, &BenchWork::changed, this, &WaveformStack::follow);
    connect(&bench_, &BenchWork::span_changed, this, [this] { update(); });
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { update(); });
    follow();
}

void WaveformStack::follow() {
    if (bench_.length() != seen_length_) {
        seen_length_ = bench_.length();
        part_.reset();
    }
    scale_->setChecked(has_one_scale());
    difference_->setVisible(!bench_.values(Track::reference).empty());
    difference_->setChecked(bench_.shows_difference());
    place_buttons();
    update();
}

bool WaveformStack::has_one_scale() const {
    return one_scale_.value_or(usual_scale(bench_.signal().recipe) != SpectrumScale::ratio);
}

std::vector<Track> WaveformStack::rows() const {
    std::vector<Track> wished;
    std::ranges::copy_if(all_tracks, std::back_inserter(wished),
                         [this](Track track) { return bench_.is_wished(track); });
    return wished;
}

std::pair<double, double> WaveformStack::shown() const {
    const double last = static_cast<double>(std::max<std::size_t>(bench_.length(), 2) - 1);
    return part_.value_or(std::pair(0.0, last));
}

void WaveformStack::show_samples(double from, double to) {
    const double last = static_cast<double>(std::max<std::size_t>(bench_.length(), 2) - 1);
    constexpr double least = 8;
    const double width = std::clamp(to - from, std::min(least, last), last);
    from = std::clamp(from, 0.0, last - width);
    part_ = std::pair(from, from + width);
    if (width >= last) {
        part_.reset();
    }
    update();
}

QRectF WaveformStack::area(Track track) const {
    const auto there = rows();
    const auto row = std::ranges::find(there, track) - there.begin();
    const double count = static_cast<double>(there.size());
    const double height = (this->height() - stack_top - axis_height) / count;
    const double y = stack_top + static_cast<double>(row) * height;
    return {double(bench_left), y + title_height, double(width() - bench_left - bench_right),
            height - title_height - row_gap};
}

double WaveformStack::peak(Track track) const {
    const auto values = bench_.values(track);
    return values.empty() ? 0 : std::abs(values[bench_.samples(track)->extremes()->loudest()]);
}

bool WaveformStack::is_silent(Track track) const {
    return peak(track) == 0;
}

double WaveformStack::common_peak() const {
    double peak = 0;
    for (const Track track : all_tracks) {
        peak = std::max(peak, this->peak(track));
    }
    return peak > 0 && std::isfinite(peak) ? peak : 1;
}

SamplePlot WaveformStack::plot(Track track) const {
    const SharedSamples samples = bench_.samples(track);
    SampleStyle style;
    style.part = shown();
    if (has_one_scale()) {
        const double peak = common_peak();
        style.range = std::pair(-peak, peak);
    } else {
        style.marks_main = true;
    }
    return SamplePlot(samples->values(), style, samples->extremes());
}

QString WaveformStack::title(Track track) const {
    QString text = bench_.word_for(track) + QStringLiteral(" · ") + bench_.name_of(track);
    if (!has_one_scale() && !bench_.values(track).empty()) {
        text += tr(" · own scale");
    }
    return text;
}

void WaveformStack::paint_row(QPainter& painter, Track track) const {
    const Theme& t = theme();
    const QRectF room = area(track);
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    const QRectF head(room.left(), room.top() - title_height, room.width(), title_height);
    const QString problem = bench_.problem(track);
    const auto values = bench_.values(track);
    const bool bounded = bench_.samples(track)->extremes()->are_bounded();
    if (values.empty() || bench_.length() == 0 || !problem.isEmpty() || !bounded) {
        draw_line(painter, head, Qt::AlignLeft | Qt::AlignVCenter, title(track));
        painter.setPen(t.grid);
        painter.drawRect(room);
        painter.setPen(problem.isEmpty() ? t.soft : t.not_met);
        painter.drawText(room.adjusted(8, 0, -8, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         !problem.isEmpty() ? problem
                         : bench_.is_busy() ? tr("being worked out")
                                            : QString());
        return;
    }
    const SamplePlot drawn = plot(track);
    draw_line(painter, head, Qt::AlignLeft | Qt::AlignVCenter, title(track));
    const bool first = track == Track::in;
    const double beside = first ? buttons_width_ + 2.0 : 0;
    draw_line(painter, head.adjusted(0, 0, -beside, 0), Qt::AlignRight | Qt::AlignVCenter,
              is_silent(track) ? tr("silent") : drawn.note());
    drawn.paint(painter, room, colour_of(bench_, track));
}

void WaveformStack::paint_span(QPainter& painter) const {
    const auto span = bench_.span();
    if (!span) {
        return;
    }
    const Theme& t = theme();
    QColor ground = t.copper;
    ground.setAlphaF(0.12F);
    const double from = std::clamp(x_of(static_cast<double>(span->first)), double(bench_left),
                                   double(width() - bench_right)),
                 to = std::clamp(x_of(static_cast<double>(span->second)), double(bench_left),
                                 double(width() - bench_right));
    for (const Track track : rows()) {
        const QRectF room = area(track);
        painter.fillRect(QRectF(from, room.top(), to - from, room.height()), ground);
        painter.setPen(t.copper);
        painter.drawLine(QPointF(from, room.top()), QPointF(from, room.bottom()));
        painter.drawLine(QPointF(to, room.top()), QPointF(to, room.bottom()));
    }
}

// Samples as long as they can be counted, else seconds.
void WaveformStack::paint_axis(QPainter& painter) const {
    const Theme& t = theme();
    const auto [from, to] = shown();
    constexpr double countable = 400, wanted_marks = 7;
    const bool in_samples = to - from <= countable;
    const double unit = in_samples ? 1 : bench_.sample_rate_hz();
    const double low = from / unit, high = to / unit;
    double step = std::pow(10, std::floor(std::log10((high - low) / wanted_marks)));
    for (const double by : {2.0, 5.0, 10.0}) {
        if ((high - low) / step > wanted_marks) {
            step = std::pow(10, std::floor(std::log10(step) + 1e-9)) * by;
        }
    }
    if (in_samples) {
        step = std::max(step, 1.0);
    }
    painter.setFont(text_font(11));
    painter.setPen(t.soft);
    const double y = height() - axis_height;
    double last_end = 0;
    for (double mark = std::ceil(low / step - 1e-9) * step; mark <= high + step * 1e-6;
         mark += step) {
        const double x = x_of(mark * unit);
        const QString text = shown_number(std::abs(mark) < step * 1e-6 ? 0 : mark, 6);
        const double half = line_width(painter.font(), text) / 2;
        if (x - half > last_end && x + half < width() - 46) {
            draw_line(painter, QRectF(x - half - 2, y, 2 * half + 4, 16), Qt::AlignCenter, text);
            last_end = x + half + 8;
        }
    }
    draw_line(painter, QRectF(width() - 60, y, 60 - bench_right + 18, 16),
              Qt::AlignRight | Qt::AlignVCenter,
              in_samples ? QStringLiteral("n") : QStringLiteral("s"));
}

QString WaveformStack::pointer_text() const {
    if (!pointer_) {
        return {};
    }
    const auto n = static_cast<std::size_t>(std::max(0.0, std::round(*pointer_)));
    QString text = tr("n = %1 · %2")
                       .arg(n)
                       .arg(QString::fromStdString(
                           time_text(static_cast<double>(n) / bench_.sample_rate_hz(), 4)));
    for (const Track track : rows()) {
        const auto values = bench_.values(track);
        if (n < values.size()) {
            text +=
                QStringLiteral(" · ") + bench_.word_for(track) + ' ' + shown_number(values[n], 4);
        }
    }
    return text;
}

void WaveformStack::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().panel);
    for (const Track track : rows()) {
        paint_row(painter, track);
    }
    paint_span(painter);
    paint_axis(painter);
    const QRectF last = area(rows().back());
    const double bottom = last.bottom();
    if (place_) {
        painter.setPen(theme().text);
        painter.drawLine(QPointF(x_of(*place_), stack_top), QPointF(x_of(*place_), bottom));
    }
    if (const QString text = pointer_text(); !text.isEmpty()) {
        painter.setFont(text_font(11));
        const double wide = line_width(painter.font(), text) + 12;
        const QRectF box(std::clamp(x_of(*pointer_) - wide / 2, double(bench_left),
                                    std::max(double(bench_left), width() - bench_right - wide)),
                         height() - axis_height, wide, 17);
        painter.fillRect(box, theme().raised);
        painter.setPen(theme().text);
        draw_line(painter, box, Qt::AlignCenter, text);
        painter.setPen(QPen(theme().hairline, 1));
        painter.drawLine(QPointF(x_of(*pointer_), stack_top), QPointF(x_of(*pointer_), bottom));
    }
}

void WaveformStack::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    place_buttons();
}

void WaveformStack::place_buttons() {
    int end = width() - bench_right;
    for (QToolButton* button : {scale_, difference_, compare_}) {
        button->adjustSize();
        button->setFixedHeight(title_height);
        button->move(end - button->width(), stack_top - 1);
        end -= button->isHidden() ? 0 : button->width() + 6;
    }
    buttons_width_ = width() - bench_right - end;
}

// More can be heard than fit below one another.
void WaveformStack::fill_compare_menu() {
    QMenu& menu = *compare_->menu();
    menu.clear();
    const auto names = comparable_chains(session_);
    const Channel* channel = session_.channel();
    const bool is_full = channel != nullptr && channel->bench.compared.size() >= most_compared;
    for (const ChainName& chain : names) {
        const QString kind = QString::fromStdString(chain.key).section(':', 0, 0);
        if (!menu.isEmpty()
            && menu.actions().last()->data().toString().section(':', 0, 0) != kind) {
            menu.addSeparator();
        }
        QAction* action = menu.addAction(chain.name, this, [this, key = chain.key](bool on) {
            compare_with(session_, key, on);
        });
        action->setData(QString::fromStdString(chain.key));
        action->setCheckable(true);
        action->setChecked(is_compared(session_, chain.key));
        action->setEnabled(action->isChecked() || !is_full);
    }
    if (names.empty()) {
        menu.addAction(tr("Keep the chain as a take to compare with it"))->setEnabled(false);
    } else if (is_full) {
        menu.addSeparator();
        menu.addAction(tr("Two at most: leave one out to choose another"))->setEnabled(false);
    }
}

double WaveformStack::x_of(double sample) const {
    const auto [from, to] = shown();
    constexpr double inset = 5; // as the plot has
    const double wide = width() - bench_left - bench_right - 2 * inset;
    return bench_left + inset + (sample - from) / (to - from) * wide;
}

double WaveformStack::sample_at(double x) const {
    return plot(Track::in).sample_at(x, area(Track::in));
}

void WaveformStack::zoom(double by, double about) {
    const auto [from, to] = shown();
    show_samples(about - (about - from) * by, about + (to - about) * by);
}

void WaveformStack::show_place(std::optional<double> sample) {
    if (place_ != sample) {
        place_ = sample;
        update();
    }
}

void WaveformStack::wheelEvent(QWheelEvent* event) {
    const double clicks = event->angleDelta().y() != 0 ? event->angleDelta().y() / 120.0
                                                       : event->angleDelta().x() / 120.0;
    const auto [from, to] = shown();
    if (event->modifiers() & Qt::ShiftModifier) {
        const double by = -clicks * (to - from) / 8;
        show_samples(from + by, to + by);
    } else {
        zoom(std::pow(0.8, clicks), sample_at(event->position().x()));
    }
    event->accept();
}

void WaveformStack::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || bench_.length() == 0) {
        return;
    }
    held_from_ = sample_at(event->position().x());
    drawn_ = false;
    // An end of the stretch goes on from the other one.
    if (const auto span = bench_.span()) {
        const double x = event->position().x();
        const double a = static_cast<double>(span->first), b = static_cast<double>(span->second);
        if (std::abs(x - x_of(a)) <= grip_pixels) {
            held_from_ = b;
        } else if (std::abs(x - x_of(b)) <= grip_pixels) {
            held_from_ = a;
        }
    }
}

void WaveformStack::mouseMoveEvent(QMouseEvent* event) {
    const double x = event->position().x();
    const double last = static_cast<double>(bench_.length());
    pointer_ = bench_.length() > 0 && x >= bench_left && x <= width() - bench_right
                   ? std::optional(std::clamp(sample_at(x), 0.0, std::max(last - 1, 0.0)))
                   : std::nullopt;
    if (held_from_) {
        drawn_ = drawn_ || std::abs(x - x_of(*held_from_)) > 3;
        if (drawn_) {
            const double here = std::clamp(sample_at(x), 0.0, last);
            const auto [a, b] = std::minmax(*held_from_, here);
            bench_.set_span(BenchWork::Span(static_cast<std::size_t>(std::max(0.0, a)),
                                            static_cast<std::size_t>(std::max(0.0, std::ceil(b)))));
        }
    } else if (const auto span = bench_.span()) {
        const bool at_grip =
            std::abs(x - x_of(static_cast<double>(span->first))) <= grip_pixels
            || std::abs(x - x_of(static_cast<double>(span->second))) <= grip_pixels;
        setCursor(at_grip ? Qt::SizeHorCursor : Qt::ArrowCursor);
    }
    update();
}

void WaveformStack::mouseReleaseEvent(QMouseEvent*) {
    if (held_from_ && !drawn_) {
        bench_.set_span({});
    }
    held_from_.reset();
}

void WaveformStack::mouseDoubleClickEvent(QMouseEvent*) {
    held_from_.reset();
    part_.reset();
    bench_.set_span({});
    update();
}

void WaveformStack::leaveEvent(QEvent*) {
    pointer_.reset();
    update();
}

void WaveformStack::keyPressEvent(QKeyEvent* event) {
    const auto [from, to] = shown();
    const double step = (to - from) / 8;
    switch (event->key()) {
    case Qt::Key_Left:
        show_samples(from - step, to - step);
        return;
    case Qt::Key_Right:
        show_samples(from + step, to + step);
        return;
    case Qt::Key_Plus:
        zoom(0.8, (from + to) / 2);
        return;
    case Qt::Key_Minus:
        zoom(1 / 0.8, (from + to) / 2);
        return;
    case Qt::Key_Escape:
        if (bench_.span()) {
            bench_.set_span({});
            return;
        }
        break;
    default:
        break;
    }
    QWidget::keyPressEvent(event);
}

} // namespace syntonon
