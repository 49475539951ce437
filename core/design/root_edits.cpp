// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/root_edits.h"

#include "core/design/root_numbers.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using List = std::vector<Complex>;

List& list_of(RootsSpec& spec, bool poles) {
    return poles ? spec.poles : spec.zeros;
}

Complex upper(const Complex& z) {
    return {z.real(), std::abs(z.imag())};
}

// The nearest other one on the axis.
std::optional<std::size_t> partner_on_axis(const List& list, std::size_t index, double at,
                                           double within) {
    std::optional<std::size_t> best;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const double distance = std::abs(list[i].real() - at);
        if (i != index && list[i].imag() == 0 && distance <= within) {
            best = i;
            within = distance;
        }
    }
    return best;
}

void put_pair(List& list, std::size_t one, std::size_t other, const Complex& to) {
    const bool is_upper = list[one].imag() > 0 || list[one].imag() == 0;
    list[is_upper ? one : other] = upper(to);
    list[is_upper ? other : one] = std::conj(upper(to));
}

void move_one(List& list, std::size_t index, const Complex& to, double snap) {
    const bool off_axis = std::abs(to.imag()) > snap;
    if (const auto mate = mate_of(list, index)) {
        if (off_axis) {
            put_pair(list, index, *mate, to);
        } else {
            list[index] = list[*mate] = {to.real(), 0};
        }
        return;
    }
    const auto partner = partner_on_axis(list, index, to.real(), snap);
    if (off_axis && partner) {
        put_pair(list, index, *partner, to);
    } else {
        list[index] = {to.real(), 0};
    }
}

// Each root or pair once, by the index of the upper one.
std::vector<RootPlace> once_each(const RootsSpec& spec, std::span<const RootPlace> places) {
    std::set<RootPlace> once;
    for (const RootPlace& place : places) {
        const List& list = list_of(spec, place.is_pole);
        if (place.index >= list.size()) {
            continue;
        }
        const auto mate = mate_of(list, place.index);
        once.insert({place.is_pole, list[place.index].imag() < 0 && mate ? *mate : place.index});
    }
    return {once.begin(), once.end()};
}

// Every root of the pair at the place.
void put(RootsSpec& spec, const RootPlace& place, const Complex& to) {
    List& list = list_of(spec, place.is_pole);
    if (const auto mate = mate_of(list, place.index)) {
        put_pair(list, place.index, *mate, to);
    } else {
        list[place.index] = {to.real(), 0};
    }
}

} // namespace

const List& list_of(const RootsSpec& spec, bool poles) {
    return poles ? spec.poles : spec.zeros;
}

// Of equal pairs the first upper one belongs to the first lower one, and so on.
std::optional<std::size_t> mate_of(const List& list, std::size_t index) {
    if (list[index].imag() == 0) {
        return std::nullopt;
    }
    const auto before =
        std::count(list.begin(), list.begin() + static_cast<std::ptrdiff_t>(index), list[index]);
    std::ptrdiff_t seen = 0;
    for (std::size_t i = 0; i < list.size(); ++i) {
        if (list[i] == std::conj(list[index]) && seen++ == before) {
            return i;
        }
    }
    return std::nullopt;
}

RootsSpec moved(const RootsSpec& spec, const RootPlace& place, Complex to, double snap) {
    RootsSpec result = spec;
    if (List& list = list_of(result, place.is_pole); place.index < list.size()) {
        move_one(list, place.index, to, snap);
    }
    return result;
}

RootsSpec moved(const RootsSpec& spec, const std::vector<RootPlace>& places, const RootPlace& held,
                Complex to, double snap) {
    const List& of_held = list_of(spec, held.is_pole);
    const auto all = once_each(spec, places);
    if (held.index >= of_held.size() || all.size() < 2 || of_held[held.index] == 0.0) {
        return moved(spec, held, to, snap);
    }
    const Complex by = to / of_held[held.index];
    RootsSpec result = spec;
    for (const RootPlace& place : all) {
        const Complex from = list_of(spec, place.is_pole)[place.index];
        // A root below the axis turns the other way.
        const bool held_below = of_held[held.index].imag() < 0;
        const Complex turn = held_below ? std::conj(by) : by;
        const Complex at = from.imag() == 0 ? Complex(from.real() * std::abs(by), 0) : from * turn;
        move_one(list_of(result, place.is_pole), place.index, at, from.imag() == 0 ? 0 : snap);
    }
    return result;
}

RootsSpec as_loud_as(RootsSpec spec, const RootsSpec& other, Complex at, Domain domain) {
    const auto level = [&](const RootsSpec& of) {
        Roots roots{of.zeros, of.poles, of.gain, 0};
        roots.domain = domain;
        return std::abs(value_of(roots, at).h);
    };
    const double is = level(spec), wanted = level(other);
    if (std::isfinite(is) && std::isfinite(wanted) && is > 0 && wanted > 0) {
        spec.gain *= wanted / is;
    }
    return spec;
}

RootsSpec mirrored(const RootsSpec& spec, std::span<const RootPlace> places, Domain domain) {
    RootsSpec result = spec;
    for (const RootPlace& place : once_each(spec, places)) {
        const List& list = list_of(spec, place.is_pole);
        const Complex from = list[place.index];
        if (from == 0.0) {
            continue;
        }
        put(result, place, mirrored(from, domain));
        if (domain == Domain::sampled) {
            // |1 - z0/z| = |z0| |1 - (1/conj(z0))/z| on the circle, once for each of a pair.
            const double factor = mate_of(list, place.index) ? std::norm(from) : std::abs(from);
            result.gain *= place.is_pole ? 1 / factor : factor;
        }
    }
    return result;
}

RootsSpec reflected_inside(const RootsSpec& spec, Domain domain) {
    std::vector<RootPlace> outside;
    for (std::size_t i = 0; i < spec.poles.size(); ++i) {
        if (domain == Domain::analog ? spec.poles[i].real() > 0 : std::abs(spec.poles[i]) > 1) {
            outside.push_back({true, i});
        }
    }
    return mirrored(spec, outside, domain);
}

RootsSpec put_on_circle(const RootsSpec& spec, std::span<const RootPlace> places, Domain domain) {
    RootsSpec result = spec;
    for (const RootPlace& place : once_each(spec, places)) {
        const Complex from = list_of(spec, place.is_pole)[place.index];
        if (domain == Domain::analog) {
            put(result, place, {0, from.imag()});
        } else if (from != 0.0) {
            put(result, place, from / std::abs(from));
        }
    }
    return result;
}

RootsSpec cancelled(const RootsSpec& spec, std::span<const RootPlace> places) {
    RootsSpec result = spec;
    for (const RootPlace& place : once_each(spec, places)) {
        result = with_added(result, !place.is_pole, list_of(spec, place.is_pole)[place.index]);
    }
    return result;
}

RootsSpec with_added(const RootsSpec& spec, bool pole, Complex at) {
    RootsSpec result = spec;
    List& list = list_of(result, pole);
    list.push_back(upper(at));
    if (at.imag() != 0) {
        list.push_back(std::conj(upper(at)));
    }
    return result;
}

RootsSpec duplicated(const RootsSpec& spec, std::span<const RootPlace> places) {
    RootsSpec result = spec;
    for (const RootPlace& place : once_each(spec, places)) {
        result = with_added(result, place.is_pole, list_of(spec, place.is_pole)[place.index]);
    }
    return result;
}

RootsSpec without(const RootsSpec& spec, std::span<const RootPlace> places) {
    std::set<RootPlace> gone;
    for (const RootPlace& place : once_each(spec, places)) {
        gone.insert(place);
        if (const auto mate = mate_of(list_of(spec, place.is_pole), place.index)) {
            gone.insert({place.is_pole, *mate});
        }
    }
    RootsSpec result{{}, {}, spec.gain};
    for (const bool poles : {false, true}) {
        const List& list = list_of(spec, poles);
        for (std::size_t i = 0; i < list.size(); ++i) {
            if (!gone.contains({poles, i})) {
                list_of(result, poles).push_back(list[i]);
            }
        }
    }
    return result;
}

} // namespace syntonon
