// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/roots_pane.h"

#include "app/plot/lane_view.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int row_height = 19, shown_shares = 4;
constexpr double mark = 4.2;
constexpr double well_known = 1e-8; // of a root

void draw_root(QPainter& painter, const QPointF& at, bool pole) {
    if (pole) {
        painter.drawLine(at + QPointF(-mark, -mark), at + QPointF(mark, mark));
        painter.drawLine(at + QPointF(-mark, mark), at + QPointF(mark, -mark));
    } else {
        painter.drawEllipse(at, mark, mark);
    }
}

QString name_of(const std::complex<double>& root, bool pole, const Axis& axis) {
    const double hz = axis.is_analog()
                          ? hz_from_rad_per_s(std::abs(root))
                          : hz_from_rad_per_sample(std::abs(std::arg(root)), axis.sample_rate_hz);
    const QString where = QString::fromStdString(frequency_text(hz));
    if (root.imag() == 0 && axis.is_analog()) {
        return (pole ? QObject::tr("real pole %1") : QObject::tr("real zero %1")).arg(where);
    }
    if (root.imag() == 0) {
        return (pole ? QObject::tr("real pole %1") : QObject::tr("real zero %1"))
            .arg(QString::number(root.real(), 'f', 4));
    }
    return (pole ? QObject::tr("pole pair %1") : QObject::tr("zero pair %1")).arg(where);
}

} // namespace

std::vector<RootShare> root_shares(const ChannelAnalysis& analysis, const Channel& channel,
                                   double hz) {
    std::vector<RootShare> shares;
    const Axis& axis = analysis.grid->axis();
    const std::complex<double> here = axis.is_analog()
                                          ? std::complex<double>(0, rad_per_s_from_hz(hz))
                                          : std::polar(1.0, axis.rad_per_sample(hz));
    const auto distance = [&](const std::complex<double>& root) {
        const double size = !axis.is_analog() ? 1
                            : root == 0.0     ? analog_unit_rad_per_s
                                              : std::abs(root);
        return std::abs(here - root) / size;
    };
    const auto add = [&](const std::vector<std::complex<double>>& roots, bool pole,
                         const std::string& stage) {
        for (const auto& root : roots) {
            if (root.imag() < 0) {
                continue; // told with its conjugate
            }
            double db = db_from_ratio(distance(root));
            if (root.imag() > 0) {
                db += db_from_ratio(distance(std::conj(root)));
            }
            shares.push_back({name_of(root, pole, axis), pole ? -db : db, stage});
        }
    };
    for (const auto& stage : channel.stages) {
        const StageAnalysis* designed = analysis.stage(stage->id);
        if (stage->enabled && designed != nullptr && designed->filter
            && designed->filter->roots()) {
            add(designed->filter->roots()->poles, true, stage->id);
            add(designed->filter->roots()->zeros, false, stage->id);
        }
    }
    std::ranges::stable_sort(shares, std::greater<>(),
                             [](const RootShare& s) { return std::abs(s.db); });
    return shares;
}

RootsPane::RootsPane(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMouseTracking(true);
    setMinimumSize(200, 240);
    setAccessibleName(
        tr("Roots: poles and zeros in the z-plane, or the s-plane of an analog channel"));
    connect(&session_, &Session::analysis_changed, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::selection_changed, this, qOverload<>(&QWidget::update));
    connect(&session_.plumb(), &PlumbLine::changed, this, qOverload<>(&QWidget::update));
}

double RootsPane::distance_shown() const {
    double farthest = 0;
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    for (std::size_t i = 0; analysis != nullptr && i < channel->stages.size(); ++i) {
        const StageAnalysis* designed = analysis->stage(channel->stages[i]->id);
        if (designed == nullptr || !designed->filter || !designed->filter->roots()) {
            continue;
        }
        for (const auto* roots :
             {&designed->filter->roots()->poles, &designed->filter->roots()->zeros}) {
            for (const auto& root : *roots) {
                farthest = std::max(farthest, std::abs(root));
            }
        }
    }
    // A round frequency, so that it seldom changes while something is dragged.
    return farthest > 0 ? rad_per_s_from_hz(round_step(hz_from_rad_per_s(farthest) * 1.02))
                        : analog_unit_rad_per_s;
}

void RootsPane::layout_plane() {
    is_analog_ = session_.axis().is_analog();
    unit_ = is_analog_ ? distance_shown() : 1;
    const int shares_height = row_height * (shown_shares + 1) + 14;
    shares_top_ = height() - shares_height;
    const double whole = std::max(40.0, std::min(width() / 2.0 - 60, (shares_top_ - 26) / 2.0));
    radius_ = whole * magnification_;
    const double right = is_analog_ ? whole / 2 : 0; // the left half is what is full
    centre_ = QPointF(width() / 2.0 + right, 12 + whole) + shift_;
}

QPointF RootsPane::point_of(const std::complex<double>& z) const {
    return centre_ + QPointF(z.real(), -z.imag()) * (radius_ / unit_);
}

std::vector<RootsPane::DrawnRoot> RootsPane::drawn_roots() const {
    std::vector<DrawnRoot> roots;
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    if (analysis == nullptr || channel == nullptr) {
        return roots;
    }
    std::vector<std::string> drawn;
    for (const auto& stage : channel->stages) {
        if (stage->enabled) {
            drawn.push_back(stage->id);
        }
    }
    // A part of a network has its own roots, which the whole need not have.
    const std::string& selected = session_.selection().stage;
    if (session_.stage() != nullptr && !slot_of(channel->stages, selected)->holder.empty()) {
        drawn.push_back(selected);
    }
    for (const std::string& id : drawn) {
        const StageAnalysis* designed = analysis->stage(id);
        if (designed == nullptr || !designed->filter || !designed->filter->roots()) {
            continue;
        }
        const Roots& own = *designed->filter->roots();
        const auto first = static_cast<std::ptrdiff_t>(roots.size());
        const auto add = [&](const std::vector<std::complex<double>>& of_one_kind, bool pole) {
            for (const auto& root : of_one_kind) {
                const auto same =
                    std::find_if(roots.begin() + first, roots.end(), [&](const DrawnRoot& r) {
                        return r.pole == pole && r.value == root;
                    });
                if (same != roots.end()) {
                    ++same->count;
                } else {
                    roots.push_back({point_of(root), id, pole, root, 1});
                }
            }
        };
        add(own.zeros, false);
        add(own.poles, true);
    }
    return roots;
}

const RootsPane::DrawnRoot* RootsPane::root_near(const std::vector<DrawnRoot>& roots,
                                                 const QPointF& at) const {
    const DrawnRoot* best = nullptr;
    double least = 8;
    for (const DrawnRoot& root : roots) {
        const QPointF d = root.at - at;
        const double distance = std::hypot(d.x(), d.y());
        // Of roots on top of one another the selected stage's is meant.
        const double counted = distance - (root.stage == session_.selection().stage ? 2 : 0);
        if (counted < least) {
            least = counted;
            best = &root;
        }
    }
    return best;
}

void RootsPane::mousePressEvent(QMouseEvent* event) {
    const auto roots = drawn_roots();
    if (const DrawnRoot* root = root_near(roots, event->position())) {
        session_.select_stage(root->stage);
    } else if (magnification_ > 1) {
        panning_from_ = event->position();
    }
}

void RootsPane::mouseReleaseEvent(QMouseEvent*) {
    panning_from_.reset();
}

void RootsPane::mouseDoubleClickEvent(QMouseEvent*) {
    magnification_ = 1;
    shift_ = {};
    update();
}

void RootsPane::wheelEvent(QWheelEvent* event) {
    constexpr double greatest = 4096;
    const double factor = std::exp2(event->angleDelta().y() / 240.0);
    const double next = std::clamp(magnification_ * factor, 1.0, greatest);
    // What is under the pointer stays there.
    const QPointF from_centre = event->position() - centre_;
    shift_ += from_centre * (1 - next / magnification_);
    magnification_ = next;
    if (magnification_ == 1) {
        shift_ = {};
    }
    update();
}

void RootsPane::mouseMoveEvent(QMouseEvent* event) {
    if (panning_from_) {
        shift_ += event->position() - *panning_from_;
        panning_from_ = event->position();
        update();
        return;
    }
    const auto roots = drawn_roots();
    const DrawnRoot* root = root_near(roots, event->position());
    setCursor(root != nullptr ? Qt::PointingHandCursor : Qt::ArrowCursor);
    if (root == nullptr) {
        QToolTip::hideText();
        return;
    }
    const Axis axis = session_.axis();
    if (axis.is_analog()) {
        const double size = std::abs(root->value);
        const QString q = root->value.imag() != 0
                              ? tr(", Q %1").arg(size / (-2 * root->value.real()), 0, 'g', 5)
                              : QString();
        QToolTip::showText(event->globalPosition().toPoint(),
                           tr("%1\n%2 %3 j%4 rad/s\n%5 Hz%6")
                               .arg(name_of(root->value, root->pole, axis))
                               .arg(root->value.real(), 0, 'g', 7)
                               .arg(root->value.imag() < 0 ? "−" : "+")
                               .arg(std::abs(root->value.imag()), 0, 'g', 7)
                               .arg(hz_from_rad_per_s(size), 0, 'g', 7)
                               .arg(q),
                           this);
        return;
    }
    QToolTip::showText(event->globalPosition().toPoint(),
                       tr("%1\n%2 %3 j%4\nradius %5")
                           .arg(name_of(root->value, root->pole, axis))
                           .arg(root->value.real(), 0, 'f', 6)
                           .arg(root->value.imag() < 0 ? "−" : "+")
                           .arg(std::abs(root->value.imag()), 0, 'f', 6)
                           .arg(std::abs(root->value), 0, 'f', 6),
                       this);
}

void RootsPane::paint_roots(QPainter& painter, bool of_selected_stage) const {
    const Theme& t = theme();
    for (const DrawnRoot& root : drawn_roots()) {
        if ((root.stage == session_.selection().stage) != of_selected_stage) {
            continue;
        }
        // Outside the circle and out of the pane's reach: still seen, at the edge.
        const bool whole = magnification_ == 1;
        const QPointF at = whole ? QPointF(std::clamp(root.at.x(), 6.0, width() - 6.0),
                                           std::clamp(root.at.y(), 6.0, shares_top_ - 6.0))
                                 : root.at;
        const bool unstable =
            root.pole && (is_analog_ ? root.value.real() >= 0 : std::abs(root.value) >= 1);
        painter.setPen(QPen(unstable            ? t.not_met
                            : of_selected_stage ? t.copper
                                                : t.ink,
                            unstable || of_selected_stage ? 1.6 : 1.2));
        draw_root(painter, at, root.pole);
        if (root.count > 1) { // a repeated root
            painter.setFont(text_font(10));
            painter.drawText(at + QPointF(mark + 2, mark + 7), tr("×%1").arg(root.count));
        }
    }
}

void RootsPane::draw_z_plane(QPainter& painter) const {
    painter.setPen(theme().grid);
    painter.drawLine(QPointF(std::max(0.0, centre_.x() - radius_ - 18), centre_.y()),
                     QPointF(std::min<double>(width(), centre_.x() + radius_ + 18), centre_.y()));
    painter.drawLine(QPointF(centre_.x(), centre_.y() - radius_ - 8),
                     QPointF(centre_.x(), centre_.y() + radius_ + 8));
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(theme().soft, 1));
    painter.drawEllipse(centre_, radius_, radius_);
}

// The imaginary axis, which is the frequencies; arcs of equal natural frequency in the stable half.
void RootsPane::draw_s_plane(QPainter& painter) const {
    const Theme& t = theme();
    painter.setClipRect(QRect(0, 0, width(), shares_top_ - 2));
    painter.fillRect(QRectF(centre_.x(), 0, width() - centre_.x(), shares_top_), t.ground);
    painter.setPen(t.grid);
    painter.drawLine(QPointF(0, centre_.y()), QPointF(width(), centre_.y()));
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setFont(text_font(10));
    for (const double part : {0.5, 1.0}) {
        const double r = radius_ * part;
        painter.setPen(QPen(t.grid, 1));
        painter.drawArc(QRectF(centre_.x() - r, centre_.y() - r, 2 * r, 2 * r), 90 * 16, 180 * 16);
        painter.setPen(t.soft);
        const QString label =
            QString::fromStdString(frequency_text(hz_from_rad_per_s(unit_ * part)));
        painter.drawText(QPointF(centre_.x() + 6, centre_.y() - r + 10), "j " + label);
        painter.drawText(QPointF(centre_.x() + 6, centre_.y() + r - 2), "−j " + label);
    }
    painter.setPen(QPen(t.soft, 1));
    painter.drawLine(QPointF(centre_.x(), 0), QPointF(centre_.x(), shares_top_));
    painter.setClipping(false);
}

const QPixmap& RootsPane::still_picture() {
    Still wanted{{}, size(), theme().name, session_.selection().stage, centre_, radius_, unit_, {}};
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    for (std::size_t i = 0; analysis != nullptr && i < channel->stages.size(); ++i) {
        const Stage& stage = *channel->stages[i];
        const bool drawn = stage.id != wanted.selected && stage.enabled;
        wanted.stages.push_back(drawn ? analysis->stages.at(stage.id) : nullptr);
    }
    if (!still_.picture.isNull() && still_ == wanted) {
        return still_.picture;
    }
    const Theme& t = theme();
    wanted.picture = QPixmap(size() * devicePixelRatioF());
    wanted.picture.setDevicePixelRatio(devicePixelRatioF());
    wanted.picture.fill(t.panel);
    QPainter painter(&wanted.picture);
    if (is_analog_) {
        draw_s_plane(painter);
    } else {
        draw_z_plane(painter);
    }
    paint_roots(painter, false);
    painter.end();
    still_ = std::move(wanted);
    return still_.picture;
}

void RootsPane::paint_plane(QPainter& painter) {
    const Theme& t = theme();
    painter.drawPixmap(0, 0, still_picture());
    painter.setClipRect(QRect(0, 0, width(), shares_top_ - 2));
    painter.setRenderHint(QPainter::Antialiasing, true);
    paint_roots(painter, true);
    if (magnification_ > 1) {
        painter.setFont(text_font(11));
        painter.setPen(t.soft);
        painter.drawText(QRect(16, 4, width() - 32, 16), Qt::AlignRight | Qt::AlignVCenter,
                         tr("× %1 shown").arg(magnification_, 0, 'g', 3));
    }
    const auto analysis = session_.analysis();
    if (analysis != nullptr && !analysis->chain.is_stable()) {
        painter.setPen(t.not_met);
        painter.setFont(text_font(12, QFont::DemiBold));
        painter.drawText(QRectF(0, centre_.y() - 20, width(), 16), Qt::AlignCenter,
                         is_analog_ ? tr("◇ unstable: a pole lies on or right of the axis")
                                    : tr("◇ unstable: a pole lies on or outside the circle"));
    }
    if (analysis != nullptr && !analysis->waits_for.empty()) {
        painter.setPen(t.soft);
        painter.setFont(text_font(11));
        painter.drawText(QRectF(0, centre_.y() + 20, width(), 32), Qt::AlignCenter,
                         tr("the last good roots:\n“%1” is being designed")
                             .arg(QString::fromStdString(analysis->waits_for)));
    }
    painter.setPen(theme().soft);
    painter.setFont(text_font(11));
    if (const QString missing = missing_roots(); !missing.isEmpty()) {
        const QRectF room(0, centre_.y() - 60, width(), 32);
        const QRectF box = painter.boundingRect(room, Qt::AlignCenter, missing);
        painter.fillRect(box.adjusted(-4, -2, 4, 2), theme().panel);
        painter.drawText(room, Qt::AlignCenter, missing);
    }
    if (const auto hz = session_.plumb().hz()) {
        QPointF at = point_of(is_analog_ ? std::complex<double>(0, rad_per_s_from_hz(*hz))
                                         : std::polar(1.0, session_.axis().rad_per_sample(*hz)));
        at.setY(std::max(at.y(), 6.0)); // beyond the pane: at its edge
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.text);
        painter.drawEllipse(at, 4, 4);
        painter.setPen(t.text);
        painter.setFont(text_font(11));
        const QString label = QString::fromStdString(frequency_text(*hz, 4));
        const int label_width = painter.fontMetrics().horizontalAdvance(label);
        const double x = at.x() + 8 + label_width > width() ? at.x() - 8 - label_width : at.x() + 8;
        painter.drawText(QPointF(x, std::max(at.y() - 4, 12.0)), label);
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setClipping(false);
}

QString RootsPane::missing_roots() const {
    const auto analysis = session_.analysis();
    const Channel* channel = session_.channel();
    for (std::size_t i = 0; analysis != nullptr && i < channel->stages.size(); ++i) {
        const Stage& stage = *channel->stages[i];
        const StageAnalysis* designed = analysis->stage(stage.id);
        if (!stage.enabled || designed == nullptr || !designed->filter) {
            continue;
        }
        const QString title = QString::fromStdString(title_of(stage));
        const auto& roots = designed->filter->roots();
        if (!roots) {
            return tr("Not shown: roots of “%1”.\n%2")
                .arg(title, QString::fromStdString(roots.error().reason));
        }
        if (roots->uncertainty > well_known * unit_) {
            return tr("Roots of “%1” lie so close together\nthat they are known to ±%2 only")
                .arg(title)
                .arg(roots->uncertainty, 0, 'g', 1);
        }
    }
    return {};
}

void RootsPane::paint_shares(QPainter& painter) {
    const Theme& t = theme();
    painter.fillRect(QRect(0, shares_top_ - 2, width(), height() - shares_top_ + 2), t.panel);
    painter.setFont(text_font(11, QFont::DemiBold));
    painter.setPen(t.text);
    const auto hz = session_.plumb().hz();
    const auto analysis = session_.analysis();
    QRect row(16, shares_top_, width() - 32, row_height);
    if (!hz || analysis == nullptr) {
        painter.setPen(t.soft);
        painter.setFont(text_font(11));
        painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter,
                         tr("Let the plumb line down to see each root's share."));
        return;
    }
    painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter,
                     tr("Greatest shares at the plumb line"));
    painter.setFont(text_font(11));
    const auto shares = root_shares(*analysis, *session_.channel(), *hz);
    double largest = 6;
    for (const RootShare& share : shares) {
        largest = std::isfinite(share.db) ? std::max(largest, std::abs(share.db)) : largest;
    }
    const int bars_left = row.left() + 200, bars_width = std::max(40, row.width() - 200),
              middle = bars_left + bars_width / 2;
    for (std::size_t i = 0; i < shares.size() && i < shown_shares; ++i) {
        row.translate(0, row_height);
        const RootShare& share = shares[i];
        painter.setPen(t.soft);
        painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter, share.name);
        painter.setPen(t.text);
        painter.drawText(
            QRect(row.left() + 118, row.top(), 72, row_height), Qt::AlignRight | Qt::AlignVCenter,
            std::isfinite(share.db) ? QString::fromStdString(signed_text(share.db, 1)) + " dB"
                                    : QStringLiteral("−∞ dB"));
        const double part = std::clamp(share.db / largest, -1.0, 1.0) * bars_width / 2;
        painter.fillRect(
            QRectF(std::min<double>(middle, middle + part), row.top() + 5, std::abs(part), 8),
            share.stage == session_.selection().stage ? t.copper : t.ink);
    }
    painter.setPen(t.hairline);
    painter.drawLine(middle, shares_top_ + row_height, middle, row.bottom());
}

void RootsPane::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    layout_plane();
    paint_plane(painter);
    paint_shares(painter);
}

} // namespace syntonon
