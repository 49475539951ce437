// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/search_taps.h"

#include "core/filter/taps.h"
#include "core/word/nearest_words.h"

#include <cmath>
#include <complex>
#include <numbers>

namespace syntonon {
namespace {

constexpr int most_tap_rounds = 24;

// The taps' spectrum at the places, kept while single taps change.
class TapSearch {
public:
    TapSearch(const std::vector<double>& wished, std::vector<double> taps, const Word& word,
              const WordPlaces& places, const std::vector<double>& other_db)
        : taps_(std::move(taps)), word_(word), places_(places), other_db_(other_db),
          symmetry_(Taps(wished).symmetry()), wished_db_(places.size()), turn_(places.size()),
          now_(places.size()), deviation_(places.size()) {
        const auto hz = places.grid().frequency_hz();
        for (std::size_t p = 0; p < hz.size(); ++p) {
            const double angle = places.grid().axis().rad_per_sample(hz[p]);
            std::complex<double> ideal = 0;
            turn_[p].resize(taps_.size());
            for (std::size_t n = 0; n < taps_.size(); ++n) {
                turn_[p][n] = std::polar(1.0, -angle * static_cast<double>(n));
                ideal += wished[n] * turn_[p][n];
                now_[p] += taps_[n] * turn_[p][n];
            }
            wished_db_[p] = 10 * std::log10(std::norm(ideal));
        }
        cost_ = cost_with(0, 0);
    }

    bool improve_once(const Watch& watch) {
        bool is_better = false;
        const std::size_t count = symmetry_ == 0 ? taps_.size() : (taps_.size() + 1) / 2;
        for (std::size_t n = 0; n < count && !watch.is_stopped(); ++n) {
            const bool stays_0 = symmetry_ < 0 && taps_.size() == 2 * n + 1;
            for (const double step : {step_of(word_), -step_of(word_)}) {
                if (stays_0 || !fits(taps_[n] + step, word_)) {
                    continue;
                }
                const double cost = cost_with(n, step);
                if (cost < cost_ * (1 - 1e-9)) {
                    take(n, step);
                    cost_ = cost;
                    is_better = true;
                }
            }
        }
        return is_better;
    }
    std::vector<double> taken() && { return std::move(taps_); }

private:
    std::complex<double> change(std::size_t n, double step, std::size_t place) const {
        const std::size_t twin = taps_.size() - 1 - n;
        const auto& turn = turn_[place];
        return symmetry_ == 0 || twin == n
                   ? step * turn[n]
                   : step * (turn[n] + static_cast<double>(symmetry_) * turn[twin]);
    }
    double cost_with(std::size_t n, double step) {
        for (std::size_t p = 0; p < now_.size(); ++p) {
            const std::complex<double> value = now_[p] + change(n, step, p);
            deviation_[p] = 10 * std::log10(std::norm(value)) - wished_db_[p];
        }
        return places_.cost_of(deviation_, other_db_,
                               step == 0 ? std::numeric_limits<double>::infinity() : cost_);
    }
    void take(std::size_t n, double step) {
        for (std::size_t p = 0; p < now_.size(); ++p) {
            now_[p] += change(n, step, p);
        }
        const std::size_t twin = taps_.size() - 1 - n;
        taps_[n] += step;
        if (symmetry_ != 0 && twin != n) {
            taps_[twin] += symmetry_ * step;
        }
    }

    std::vector<double> taps_;
    Word word_;
    const WordPlaces& places_;
    const std::vector<double>& other_db_;
    int symmetry_;
    std::vector<double> wished_db_;
    std::vector<std::vector<std::complex<double>>> turn_;
    std::vector<std::complex<double>> now_;
    std::vector<double> deviation_;
    double cost_ = 0;
};

} // namespace

Expected<std::vector<double>> searched_taps(const std::vector<double>& taps, const Arithmetic& how,
                                            const WordPlaces& places,
                                            const std::vector<double>& other_db,
                                            const Watch& watch) {
    auto nearest = nearest_taps(taps, how);
    if (!nearest || taps.empty() || taps.size() > most_searched_taps || !how.is_fixed()) {
        return nearest;
    }
    TapSearch search(taps, std::move(*nearest), coefficient_values(how), places, other_db);
    for (int round = 0; round < most_tap_rounds && search.improve_once(watch); ++round) {
    }
    return std::move(search).taken();
}

} // namespace syntonon
