// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/exchange_reference.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

ExchangePlace place_in(const ExchangeBand& band, const Amplitude& wanted, double w) {
    std::size_t piece = band.first_piece;
    while (piece < band.last_piece && w > wanted[piece].gain.to) {
        ++piece;
    }
    return {w, piece};
}

} // namespace

std::vector<ExchangeBand> exchange_bands(const Amplitude& wanted) {
    std::vector<ExchangeBand> bands;
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        const LinePiece& piece = wanted[i].gain;
        if (!bands.empty() && bands.back().to == piece.from) {
            bands.back().last_piece = i;
            bands.back().to = piece.to;
        } else {
            bands.push_back({i, i, piece.from, piece.to});
        }
    }
    return bands;
}

std::vector<ExchangePlace> evenly_spread(const Amplitude& wanted, std::size_t count) {
    const auto bands = exchange_bands(wanted);
    double width = 0;
    for (const ExchangeBand& band : bands) {
        width += band.to - band.from;
    }
    std::vector<ExchangePlace> places;
    double before = 0;
    std::size_t given = 0;
    for (std::size_t b = 0; b < bands.size(); ++b) {
        before += bands[b].to - bands[b].from;
        const auto left = bands.size() - 1 - b; // bands that want one each
        const auto until = b + 1 == bands.size() ? count
                                                 : static_cast<std::size_t>(std::lround(
                                                     static_cast<double>(count) * before / width));
        const std::size_t here =
            std::clamp<std::size_t>(until > given ? until - given : 1, 1, count - given - left);
        for (std::size_t k = 0; k < here; ++k) {
            const double part = here == 1 ? 0.5 : double(k) / double(here - 1);
            places.push_back(
                place_in(bands[b], wanted, std::lerp(bands[b].from, bands[b].to, part)));
        }
        given += here;
    }
    return places;
}

std::vector<ExchangePlace> drawn_out(const Amplitude& wanted,
                                     const std::vector<ExchangePlace>& shorter, std::size_t count) {
    std::vector<ExchangePlace> places;
    std::size_t used = 0, given = 0;
    for (const ExchangeBand& band : exchange_bands(wanted)) {
        std::vector<double> w;
        for (const ExchangePlace& at : shorter) {
            if (at.piece >= band.first_piece && at.piece <= band.last_piece) {
                w.push_back(at.w);
            }
        }
        used += w.size();
        const auto until = static_cast<std::size_t>(std::lround(
            static_cast<double>(used) * static_cast<double>(count) / double(shorter.size())));
        for (std::size_t k = given; k < until; ++k) {
            const double along = until - given == 1 ? 0
                                                    : double(k - given) * double(w.size() - 1)
                                                          / double(until - given - 1);
            const auto i = std::min(static_cast<std::size_t>(along), w.size() - 1);
            const double next = i + 1 < w.size() ? w[i + 1] : w[i];
            places.push_back(
                place_in(band, wanted, std::lerp(w[i], next, along - static_cast<double>(i))));
        }
        given = until;
    }
    return places;
}

} // namespace syntonon
