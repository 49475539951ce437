// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/window_commands.h"

#include "app/model/selected_fir.h"
#include "core/math/window_side_lobes.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <utility>

namespace syntonon {
namespace {

constexpr double same = 1e-6;

template <class Spec>
auto* window_in_fir(Spec& spec) {
    auto* windowed = std::get_if<WindowedFir>(&spec.method);
    auto* chain = std::get_if<FromChainFir>(&spec.method);
    return windowed != nullptr ? &windowed->window : chain != nullptr ? &chain->window : nullptr;
}

void edit_window(Session& session, const QString& name, const std::function<void(Window&)>& change,
                 const QString& gesture = {}) {
    if (selected_window(session) == nullptr) {
        return;
    }
    session.edit_stage(
        name, [&](Stage& stage) { change(*window_in_fir(std::get<FirSpec>(stage.spec.edit()))); },
        gesture);
}

WindowPoint mirrored(const WindowPoint& point) {
    return {1 - point.place, point.value};
}

std::size_t insert(std::vector<WindowPoint>& points, const WindowPoint& fresh) {
    const auto after = std::ranges::upper_bound(points, fresh.place, {}, &WindowPoint::place);
    const auto at = points.insert(after, fresh);
    return static_cast<std::size_t>(at - points.begin());
}

} // namespace

const Window* selected_window(const Session& session) {
    const FirSpec* spec = selected_fir(session);
    return spec != nullptr ? window_in_fir(*spec) : nullptr;
}

const std::vector<WindowPoint>* drawn_points(const Session& session) {
    const Window* window = selected_window(session);
    return window != nullptr && window->shape == WindowShape::drawn ? &window->points : nullptr;
}

bool is_symmetric(const std::vector<WindowPoint>& points) {
    for (std::size_t i = 0; i < points.size(); ++i) {
        const WindowPoint other = mirrored(points[points.size() - 1 - i]);
        if (std::abs(other.place - points[i].place) > same
            || std::abs(other.value - points[i].value) > same) {
            return false;
        }
    }
    return true;
}

void make_window_symmetric(Session& session) {
    edit_window(session, QObject::tr("Make the window symmetric"), [](Window& window) {
        std::vector<WindowPoint> made;
        for (const WindowPoint& point : window.points) {
            if (point.place < 0.5 - same) {
                made.push_back(point);
            }
        }
        const std::size_t half = made.size();
        const auto middle = std::ranges::find_if(
            window.points, [](const WindowPoint& p) { return std::abs(p.place - 0.5) <= same; });
        if (middle != window.points.end()) {
            made.push_back({0.5, middle->value});
        }
        for (std::size_t i = half; i-- > 0;) {
            made.push_back(mirrored(made[i]));
        }
        constexpr std::size_t least_points = 2;
        if (made.size() >= least_points) {
            window.points = std::move(made);
        }
    });
}

void move_window_point(Session& session, std::size_t i, WindowPoint to, bool symmetric,
                       const QString& gesture) {
    edit_window(
        session, QObject::tr("Move a point of the window"),
        [&](Window& window) {
            auto& all = window.points;
            const std::size_t other = all.size() - 1 - i;
            double least = i > 0 ? all.at(i - 1).place : 0;
            double most = i + 1 < all.size() ? all[i + 1].place : 1;
            if (symmetric) { // neither past the middle
                (i < other ? most : least) = i < other    ? std::min(most, 0.5)
                                             : i == other ? 0.5
                                                          : std::max(least, 0.5);
                most = i == other ? 0.5 : most;
            }
            all.at(i) = {std::clamp(to.place, least, std::max(least, most)), to.value};
            if (symmetric) {
                all.at(other) = i == other ? all[i] : mirrored(all[i]);
            }
        },
        gesture);
}

std::size_t add_window_point(Session& session, WindowPoint point, bool symmetric) {
    std::size_t at = 0;
    edit_window(session, QObject::tr("Add a point to the window"), [&](Window& window) {
        constexpr double near_middle = 0.01;
        const bool is_middle = std::abs(point.place - 0.5) < near_middle;
        if (symmetric && is_middle) {
            point.place = 0.5;
        }
        if (symmetric && !is_middle) {
            insert(window.points, mirrored(point));
        }
        at = insert(window.points, point);
    });
    return at;
}

void remove_window_point(Session& session, std::size_t i, bool symmetric) {
    const auto* points = drawn_points(session);
    if (points == nullptr || i >= points->size()) {
        return;
    }
    const std::size_t other = points->size() - 1 - i;
    const bool both = symmetric && other != i;
    if (points->size() <= (both ? 3u : 2u)) {
        return;
    }
    edit_window(session, QObject::tr("Remove a point of the window"), [&](Window& window) {
        const auto at = [&](std::size_t k) {
            return window.points.begin() + static_cast<std::ptrdiff_t>(k);
        };
        window.points.erase(at(std::max(i, both ? other : i)));
        if (both) {
            window.points.erase(at(std::min(i, other)));
        }
    });
}

bool set_side_lobe(Session& session, double level_db, const QString& gesture) {
    const Window* window = selected_window(session);
    const FirSpec* spec = selected_fir(session);
    const auto parameter =
        window != nullptr ? parameter_by_side_lobe(
            window->shape, level_db, static_cast<std::size_t>(std::max(spec->length, 0)))
                          : std::nullopt;
    if (parameter) {
        constexpr double grain = 1e4;
        edit_window(
            session, QObject::tr("Move the window's side lobes"),
            [&](Window& changed) { changed.parameter = std::round(*parameter * grain) / grain; },
            gesture);
    }
    return parameter.has_value();
}

} // namespace syntonon
