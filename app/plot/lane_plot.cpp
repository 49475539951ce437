// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_plot.h"

#include "app/plot/lane_ticks.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <qcustomplot.h>

namespace syntonon {
namespace {

constexpr std::array lane_shares = {300, 84, 112, 112, 150}; // of the height
constexpr double beyond_pixels = 1e6;

QSharedPointer<QCPAxisTicker> ticker_of(const std::vector<AxisTick>& ticks) {
    auto ticker = QSharedPointer<QCPAxisTickerText>::create();
    for (const AxisTick& tick : ticks) {
        ticker->addTick(tick.place, tick.text);
    }
    return ticker;
}

// Draws again for a new size only once it is painted: a desk that is shown changes it several
// times. The lanes' places are right at once.
class LaneCanvas : public QCustomPlot {
public:
    explicit LaneCanvas(QWidget* parent) : QCustomPlot(parent) {
        connect(this, &QCustomPlot::afterReplot, this, [this] { is_due_ = false; });
    }

protected:
    void resizeEvent(QResizeEvent*) override {
        setViewport(rect());
        updateLayout();
        is_due_ = true;
        update();
    }

    void paintEvent(QPaintEvent* event) override {
        if (is_due_) {
            replot(rpQueuedRefresh);
        }
        QCustomPlot::paintEvent(event);
    }

private:
    bool is_due_ = false;
};

QStringList numbers_of(const QCPAxis& axis) {
    const QVector<QString> labels = axis.tickVectorLabels();
    return QStringList(labels.begin(), labels.end());
}

} // namespace

void LaneCurve::set_pen(const QPen& pen) {
    // The plotting widget makes lines of width 1 one pixel of the screen wide, which its
    // documentation advises to avoid by a little more where a point is several pixels.
    constexpr double just_more = 1.01, fine_screen = 1.2;
    QPen drawn = pen;
    if (graph_->parentPlot()->devicePixelRatioF() > fine_screen && drawn.widthF() == 1) {
        drawn.setWidthF(just_more);
    }
    graph_->setPen(drawn);
}

void LaneCurve::set_dots(const QColor& colour, double size) {
    graph_->setLineStyle(QCPGraph::lsNone);
    graph_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, QPen(colour), colour, size));
}

void LaneCurve::set_smooth(bool smooth) {
    graph_->setAntialiased(smooth);
}

void LaneCurve::fill_to(LaneCurve other, const QBrush& brush) {
    graph_->setChannelFillGraph(other.graph_);
    graph_->setBrush(brush);
}

void LaneCurve::set_name(const QString& name) {
    graph_->setName(name);
}

QString LaneCurve::name() const {
    return graph_->name();
}

void LaneCurve::clear() {
    graph_->data()->clear();
}

std::vector<QPointF> LaneCurve::pixels_between(double left, double right) const {
    std::vector<QPointF> points;
    if (!graph_->visible()) {
        return points;
    }
    const QRectF lane = graph_->keyAxis()->axisRect()->rect();
    // Keys are sorted: what lies elsewhere is not mapped, since this is asked at every move.
    const auto [low, high] = std::minmax(
        {graph_->keyAxis()->pixelToCoord(left), graph_->keyAxis()->pixelToCoord(right)});
    const auto end = graph_->data()->findEnd(high, false);
    for (auto point = graph_->data()->findBegin(low, false); point != end; ++point) {
        const QPointF at = graph_->coordsToPixels(point->key, point->value);
        if (std::isfinite(at.y()) && lane.contains(at)) { // a gap is "contained" by any
            points.push_back(at);
        }
    }
    return points;
}

std::optional<double> LaneCurve::distance_to(const QPointF& point) const {
    const bool here = graph_->visible() && !graph_->data()->isEmpty()
                      && graph_->keyAxis()->axisRect()->rect().contains(point.toPoint());
    const double distance = here ? graph_->selectTest(point, false) : -1;
    return distance >= 0 ? std::optional(distance) : std::nullopt;
}

LanePlot::LanePlot(QWidget* parent) : QWidget(parent), canvas_(new LaneCanvas(this)) {
    canvas_->setAttribute(Qt::WA_TransparentForMouseEvents);
    canvas_->setFocusPolicy(Qt::NoFocus);
    canvas_->plotLayout()->clear();
    canvas_->plotLayout()->setRowSpacing(12);
    for (const Lane lane : all_lanes) {
        auto* rect = new QCPAxisRect(canvas_, false);
        rects_[index(lane)] = rect;
        rect->addAxes(QCPAxis::atLeft | QCPAxis::atBottom);
        rect->setAutoMargins(QCP::msNone);
        rect->setupFullAxesBox();
        for (QCPAxis* axis : rect->axes()) {
            axis->setTickLength(0);
            axis->setSubTickLength(0);
            const bool is_copy =
                axis->axisType() == QCPAxis::atRight || axis->axisType() == QCPAxis::atTop;
            axis->setTicks(!is_copy);
            axis->grid()->setVisible(!is_copy);
        }
    }
    canvas_->addLayer("still", canvas_->layer("main"), QCustomPlot::limAbove);
    canvas_->addLayer("live", canvas_->layer("overlay"), QCustomPlot::limAbove);
    canvas_->layer("live")->setMode(QCPLayer::lmBuffered);
    // Nothing is on it; a picture of its own would be laid over the others at every repaint.
    canvas_->layer("overlay")->setMode(QCPLayer::lmLogical);
    canvas_->setPlottingHint(QCP::phFastPolylines, true);
    canvas_->setNotAntialiasedElements(QCP::aeAll);
    canvas_->setNoAntialiasingOnDrag(false);
    setMouseTracking(true);
    lay_out();
    apply_axes();
    apply_theme();
}

LanePlot::~LanePlot() {
    canvas_->clearPlottables();
    for (QCPAxisRect* rect : rects_) {
        if (rect->layout() == nullptr) {
            delete rect; // no layout owns it
        }
    }
}

void LanePlot::resizeEvent(QResizeEvent* event) {
    apply_axes(); // other heights, other lines
    canvas_->setGeometry(rect());
    QWidget::resizeEvent(event);
}

void LanePlot::lay_out() {
    // Rows are made anew; the rects and what is drawn in them stay.
    for (QCPAxisRect* rect : rects_) {
        if (rect->layout() != nullptr) {
            canvas_->plotLayout()->take(rect);
        }
    }
    canvas_->plotLayout()->simplify();
    canvas_->plotLayout()->setRowSpacing(12);
    int row = 0;
    for (const Lane lane : all_lanes) {
        QCPAxisRect* rect = rects_[index(lane)];
        const bool shown = view_.shows(lane);
        rect->setVisible(shown);
        for (QCPAxis* axis : rect->axes()) {
            axis->setVisible(shown);
            axis->grid()->setVisible(shown && axis->ticks());
        }
        if (!shown) {
            continue;
        }
        canvas_->plotLayout()->addElement(row, 0, rect);
        canvas_->plotLayout()->setRowStretchFactor(row, lane_shares[index(lane)]);
        ++row;
        const bool last = lane == bottom_lane();
        frequency_axis(lane)->setTickLabels(last);
        rect->setMargins(QMargins(46, lane == top_lane() ? 12 : 4, 24 + side_room_, last ? 40 : 4));
        rect->setMinimumMargins(rect->margins());
    }
}

void LanePlot::set_view(const LaneView& view) {
    const bool other_frequencies =
        view.span != view_.span || view.linear_frequency != view_.linear_frequency;
    const bool other_lanes = view.visible != view_.visible;
    view_ = view;
    if (view_.span == FrequencySpan::two_sided) {
        view_.linear_frequency = true; // 0 Hz has no logarithm
    }
    if (std::ranges::none_of(view_.visible, std::identity{})) {
        view_.show(Lane::magnitude, true);
    }
    if (other_frequencies) {
        std::tie(zoom_.low_hz, zoom_.high_hz) = whole_frequencies();
    }
    if (other_lanes) {
        lay_out();
        canvas_->plotLayout()->update(QCPLayoutElement::upLayout);
    }
    keep_showable(LaneZoom{});
    apply_axes();
}

void LanePlot::set_side_room(int pixels) {
    side_room_ = pixels;
    lay_out();
    canvas_->plotLayout()->update(QCPLayoutElement::upLayout);
}

void LanePlot::set_axis(const Axis& axis) {
    if (axis != axis_) {
        axis_ = axis;
        std::tie(zoom_.low_hz, zoom_.high_hz) = whole_frequencies();
        apply_axes();
    }
}

std::pair<double, double> LanePlot::whole_frequencies() const {
    const double half = axis_.sample_rate_hz / 2;
    if (axis_.is_analog()) { // no end, but somewhere one has to begin
        return view_.linear_frequency ? std::pair(0.0, 2 * half)
                                      : std::pair(std::min(20.0, half / 10), 10 * half);
    }
    switch (view_.span) {
    case FrequencySpan::two_sided:
        return {-half, half};
    case FrequencySpan::mirrored:
        return {view_.linear_frequency ? 0.0 : std::min(20.0, half / 10), axis_.sample_rate_hz};
    case FrequencySpan::to_nyquist:
        break;
    }
    return view_.linear_frequency ? std::pair(0.0, half)
                                  : std::pair(std::min(20.0, half / 10), std::min(20000.0, half));
}

bool LanePlot::shows_all_frequencies() const {
    const auto [low, high] = whole_frequencies();
    return zoom_.low_hz <= low + 1e-4 * std::abs(low)
           && zoom_.high_hz >= high - 1e-4 * std::abs(high);
}

void LanePlot::set_zoom(const LaneZoom& zoom) {
    const LaneZoom before = zoom_;
    zoom_ = zoom;
    keep_showable(before);
    apply_axes();
}

// Levels far from all use are one number as ratios, or none; a zero's level ends no axis.
void LanePlot::keep_showable(const LaneZoom& otherwise) {
    for (const Lane lane : all_lanes) {
        const double low = axis_of(lane, range(lane).low), high = axis_of(lane, range(lane).high);
        if (!(std::isfinite(high - low) && low < high)) {
            zoom_.of(lane) = otherwise.of(lane);
        }
    }
    if (!(zoom_.low_hz < zoom_.high_hz && (view_.linear_frequency || zoom_.low_hz > 0))) {
        std::tie(zoom_.low_hz, zoom_.high_hz) = whole_frequencies();
    }
}

double LanePlot::height_of(Lane lane) const {
    int shares = 0;
    for (const Lane other : all_lanes) {
        shares += view_.shows(other) ? lane_shares[index(other)] : 0;
    }
    return static_cast<double>(height()) * lane_shares[index(lane)] / std::max(1, shares) - 12;
}

void LanePlot::apply_axes() {
    const auto frequencies =
        ticker_of(frequency_ticks(view_, axis_.sample_rate_hz, zoom_.low_hz, zoom_.high_hz));
    for (const Lane lane : all_lanes) {
        QCPAxis* bottom = frequency_axis(lane);
        bottom->setScaleType(view_.linear_frequency ? QCPAxis::stLinear : QCPAxis::stLogarithmic);
        bottom->setTicker(frequencies);
        bottom->setRange(zoom_.low_hz, zoom_.high_hz);
        const LaneRange& shown = range(lane);
        const double low = axis_of(lane, shown.low), high = axis_of(lane, shown.high);
        value_axis(lane)->setRange(low, high);
        value_axis(lane)->setTicker(ticker_of(
            value_ticks(lane, view_, shown, axis_.sample_rate_hz, height_of(lane), low, high)));
    }
}

double LanePlot::low_hz() const {
    return view_.span == FrequencySpan::two_sided ? 0.0 : std::max(0.0, zoom_.low_hz);
}

double LanePlot::high_hz() const {
    return view_.span == FrequencySpan::to_nyquist || axis_.is_analog()
               ? zoom_.high_hz
               : std::min(zoom_.high_hz, axis_.end_hz());
}

QRect LanePlot::rect_of(Lane lane) const {
    return view_.shows(lane) ? rects_[index(lane)]->rect() : QRect();
}

QRect LanePlot::rect_of_all() const {
    return rect_of(top_lane()).united(rect_of(bottom_lane()));
}

Lane LanePlot::top_lane() const {
    return *std::ranges::find_if(all_lanes, [this](Lane lane) { return view_.shows(lane); });
}

Lane LanePlot::bottom_lane() const {
    Lane last = Lane::magnitude;
    for (const Lane lane : all_lanes) {
        last = view_.shows(lane) ? lane : last;
    }
    return last;
}

double LanePlot::x_of(double axis_hz) const {
    const QRect r = rect_of(top_lane());
    const double low = zoom_.low_hz, high = zoom_.high_hz;
    const double part = view_.linear_frequency ? (axis_hz - low) / (high - low)
                                               : std::log(axis_hz / low) / std::log(high / low);
    return std::clamp(r.left() + r.width() * part, -beyond_pixels, beyond_pixels);
}

double LanePlot::axis_hz_at(double x) const {
    const QRect r = rect_of(top_lane());
    const double part = (x - r.left()) / r.width();
    const double low = zoom_.low_hz, high = zoom_.high_hz;
    return view_.linear_frequency ? low + part * (high - low) : low * std::pow(high / low, part);
}

double LanePlot::folded(double axis_hz) const {
    const double hz = std::abs(axis_hz);
    const bool above = view_.span == FrequencySpan::mirrored && hz > axis_.end_hz();
    return above ? std::abs(axis_.sample_rate_hz - hz) : hz;
}

double LanePlot::hz_at(double x) const {
    return folded(axis_hz_at(x));
}

double LanePlot::axis_of(Lane lane, double value) const {
    if (lane == Lane::magnitude && view_.level == LevelScale::linear_ratio) {
        return ratio_from_db(value);
    }
    if (lane == Lane::phase && view_.radians) {
        return rad_from_deg(value);
    }
    if (lane == Lane::delay && view_.delay_unit != TimeUnit::ms) {
        return from_samples(samples_of({value, TimeUnit::ms}, axis_.sample_rate_hz),
                            view_.delay_unit, axis_.sample_rate_hz);
    }
    return value;
}

double LanePlot::value_of(Lane lane, double axis) const {
    if (lane == Lane::magnitude && view_.level == LevelScale::linear_ratio) {
        return db_from_ratio(std::max(axis, 1e-9));
    }
    if (lane == Lane::phase && view_.radians) {
        return deg_from_rad(axis);
    }
    if (lane == Lane::delay && view_.delay_unit != TimeUnit::ms) {
        return from_samples(samples_of({axis, view_.delay_unit}, axis_.sample_rate_hz),
                            TimeUnit::ms, axis_.sample_rate_hz);
    }
    return axis;
}

double LanePlot::y_of(Lane lane, double value) const {
    const QRect r = rect_of(lane);
    const double low = axis_of(lane, range(lane).low), high = axis_of(lane, range(lane).high);
    return r.bottom() + 1 - r.height() * (axis_of(lane, value) - low) / (high - low);
}

double LanePlot::value_at(Lane lane, double y) const {
    const QRect r = rect_of(lane);
    const double low = axis_of(lane, range(lane).low), high = axis_of(lane, range(lane).high);
    return value_of(lane, low + (r.bottom() + 1 - y) / r.height() * (high - low));
}

std::optional<Lane> LanePlot::lane_at(const QPoint& point, bool margin) const {
    for (const Lane lane : all_lanes) {
        const QRect r = rect_of(lane);
        if (r.isEmpty()) {
            continue;
        }
        if (r.contains(point) || (margin && r.adjusted(-r.left(), 0, 0, 0).contains(point))) {
            return lane;
        }
    }
    return std::nullopt;
}

QCPAxis* LanePlot::frequency_axis(Lane lane) const {
    return rects_[index(lane)]->axis(QCPAxis::atBottom);
}

QCPAxis* LanePlot::value_axis(Lane lane) const {
    return rects_[index(lane)]->axis(QCPAxis::atLeft);
}

LaneCurve LanePlot::add_curve(Lane lane, const QString& layer_name, const QPen& pen) {
    QCPGraph* graph = canvas_->addGraph(frequency_axis(lane), value_axis(lane));
    graph->setLayer(layer_name);
    graph->setAdaptiveSampling(false);
    LaneCurve curve(graph);
    curve.set_pen(pen);
    return curve;
}

void LanePlot::remove_curve(LaneCurve curve) {
    canvas_->removeGraph(curve.graph());
}

std::vector<LaneCurve> LanePlot::all_curves() const {
    std::vector<LaneCurve> all;
    for (int i = 0; i < canvas_->graphCount(); ++i) {
        all.emplace_back(canvas_->graph(i));
    }
    return all;
}

QStringList LanePlot::frequency_numbers() const {
    return numbers_of(*frequency_axis(bottom_lane()));
}

QStringList LanePlot::value_numbers(Lane lane) const {
    return numbers_of(*value_axis(lane));
}

std::optional<std::pair<double, double>> LanePlot::extent_of(LaneCurve curve, Lane lane) const {
    if (curve.graph()->valueAxis() != value_axis(lane) || !curve.graph()->visible()) {
        return std::nullopt;
    }
    bool found = false;
    const QCPRange extent =
        curve.graph()->getValueRange(found, QCP::sdBoth, QCPRange(zoom_.low_hz, zoom_.high_hz));
    return found ? std::optional(
               std::pair(value_of(lane, extent.lower), value_of(lane, extent.upper)))
                 : std::nullopt;
}

void LanePlot::set_data(LaneCurve curve, Lane lane, std::span<const double> hz,
                        const QList<double>& values, Symmetry symmetry) const {
    QVector<double> x(hz.begin(), hz.end()), y(values.size());
    std::ranges::transform(values, y.begin(), [&](double v) { return axis_of(lane, v); });
    if (view_.span != FrequencySpan::to_nyquist && !axis_.is_analog()) {
        const double sign = symmetry == Symmetry::odd ? -1 : 1;
        QVector<double> mirrored_x, mirrored_y;
        for (qsizetype i = x.size(); i-- > 0;) {
            mirrored_x.append(view_.span == FrequencySpan::two_sided ? -x[i]
                                                                     : axis_.sample_rate_hz - x[i]);
            mirrored_y.append(axis_of(lane, sign * values[i]));
        }
        if (view_.span == FrequencySpan::two_sided) {
            x = mirrored_x + x;
            y = mirrored_y + y;
        } else {
            x += mirrored_x;
            y += mirrored_y;
        }
    }
    curve.graph()->setVisible(view_.shows(lane));
    curve.graph()->setData(x, y, true);
}

void LanePlot::apply_theme() {
    const Theme& t = theme();
    canvas_->setBackground(QBrush(t.panel));
    for (QCPAxisRect* rect : rects_) {
        for (QCPAxis* axis : rect->axes()) {
            axis->setBasePen(QPen(t.hairline));
            axis->setTickPen(Qt::NoPen);
            axis->setTickLabelColor(t.soft);
            axis->setTickLabelFont(text_font(11));
            axis->setTickLabelPadding(axis->axisType() == QCPAxis::atLeft ? 8 : 6);
            axis->grid()->setPen(QPen(t.grid));
            axis->grid()->setZeroLinePen(QPen(t.hairline));
        }
    }
}

void LanePlot::redraw_live() {
    canvas_->layer("live")->replot();
}

void LanePlot::redraw_when_idle() {
    canvas_->replot(QCustomPlot::rpQueuedRefresh);
}

void LanePlot::redraw_now() {
    canvas_->replot(QCustomPlot::rpImmediateRefresh);
}

void LanePlot::draw_onto(QPaintDevice& device, const std::function<void(QPainter&)>& above) {
    canvas_->setGeometry(rect()); // a widget that was never shown gets no resize event
    canvas_->setViewport(rect());
    redraw_now();
    QCPPainter painter;
    painter.begin(&device);
    painter.setMode(QCPPainter::pmVectorized, true);
    painter.fillRect(rect(), theme().panel);
    canvas_->toPainter(&painter, width(), height());
    painter.setRenderHint(QPainter::TextAntialiasing, true);
    above(painter);
    painter.end();
}

} // namespace syntonon
