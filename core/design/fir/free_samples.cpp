// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/free_samples.h"

#include "core/base/units.h"
#include "core/design/fir/method.h"
#include "core/math/fft.h"
#include "core/math/least_greatest.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <map>

namespace syntonon {
namespace {

using Matrix = Eigen::MatrixXd;
using Index = Eigen::Index;

Index index(std::size_t i) {
    return static_cast<Index>(i);
}

// Symmetric taps by their cosine sum: half the unknowns.
Matrix rows_about_middle(const std::vector<PlacedSample>& samples, std::size_t length) {
    const Index half = index((length + 1) / 2);
    Matrix rows(index(samples.size()), half);
    for (Index i = 0; i < rows.rows(); ++i) {
        for (Index n = 0; n < half; ++n) {
            const double t = middle_of(length) - static_cast<double>(n);
            const double cosine = std::cos(samples[static_cast<std::size_t>(i)].w * t);
            constexpr double rounding = 1e-12; // a row of that would be taken for an equation
            rows(i, n) = std::abs(cosine) < rounding ? 0 : (t == 0 ? 1 : 2) * cosine;
        }
    }
    return rows;
}

// Real and imaginary part of the sum, turned back by the delay.
Matrix rows_about(const std::vector<PlacedSample>& samples, std::size_t length, double delay) {
    const Index count = index(samples.size());
    Matrix rows(2 * count, index(length));
    for (Index i = 0; i < count; ++i) {
        for (Index n = 0; n < rows.cols(); ++n) {
            const double w = samples[static_cast<std::size_t>(i)].w;
            const double t = w * (delay - static_cast<double>(n));
            rows(i, n) = std::cos(t);
            rows(count + i, n) = std::sin(t);
        }
    }
    return rows;
}

// Taps a column: of the gains that are given, and of 1 at each sample that is not.
struct Family {
    Matrix taps;
    std::size_t rank = 0;
    double error = 0; // of the first column
};

Matrix gains_of(const std::vector<PlacedSample>& samples) {
    const auto chosen = std::ranges::count_if(samples, [](const auto& s) { return !s.gain; });
    Matrix gains = Matrix::Zero(index(samples.size()), 1 + chosen);
    Index next = 1;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        if (samples[i].gain) {
            gains(index(i), 0) = *samples[i].gain;
        } else {
            gains(index(i), next++) = 1;
        }
    }
    return gains;
}

Family by_least_squares(const std::vector<PlacedSample>& samples, std::size_t length,
                        double delay) {
    const bool is_linear = delay == middle_of(length);
    const Matrix rows =
        is_linear ? rows_about_middle(samples, length) : rows_about(samples, length, delay);
    const Matrix given = gains_of(samples);
    Matrix gains = Matrix::Zero(rows.rows(), given.cols());
    gains.topRows(given.rows()) = given;
    const Eigen::CompleteOrthogonalDecomposition<Matrix> parts(rows);
    const Matrix found = parts.solve(gains);
    Family family{Matrix(index(length), gains.cols()), static_cast<std::size_t>(parts.rank()),
                  (rows * found.col(0) - gains.col(0)).lpNorm<Eigen::Infinity>()};
    for (Index n = 0; n < index(length); ++n) {
        family.taps.row(n) = found.row(is_linear ? std::min(n, index(length) - 1 - n) : n);
    }
    return family;
}

// Where a linear-phase filter's samples stand on the grid of 2 pi k / length, and where they do
// not.
struct OnGrid {
    std::vector<std::optional<std::size_t>> at; // the sample at each place
    std::vector<std::size_t> beside;            // samples that are between places
};

// Nothing where there are not as many samples as unknowns, or many are beside the grid.
std::optional<OnGrid> on_grid_but_few(const std::vector<PlacedSample>& samples,
                                      std::size_t length) {
    constexpr std::size_t few = 48;
    constexpr double same = 1e-9; // of a step
    OnGrid grid;
    grid.at.resize((length + 1) / 2);
    std::size_t counted = 0;
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double place = samples[i].w * static_cast<double>(length) / (2 * pi);
        const auto k = static_cast<std::size_t>(std::lround(place));
        const bool is_on = std::abs(place - static_cast<double>(k)) < same;
        if (is_on && 2 * k == length) {
            continue; // the type is 0 there by itself
        }
        ++counted;
        if (is_on && grid.at[k]) {
            return std::nullopt;
        }
        if (is_on) {
            grid.at[k] = i;
        } else {
            grid.beside.push_back(i);
        }
    }
    return counted == grid.at.size() && grid.beside.size() <= few ? std::optional(grid)
                                                                  : std::nullopt;
}

// A(w) of the symmetric taps whose amplitude is 1 at place k and 0 at the others.
double amplitude_of_place(std::size_t k, double w, std::size_t length) {
    const auto count = static_cast<double>(length);
    const auto sum = [count](double x) {
        const double turn = std::remainder(x, 2 * pi) / 2;
        constexpr double small = 1e-9;
        const double sign =
            std::llround((x / 2 - turn) / pi) % 2 != 0 && std::fmod(count, 2) == 0 ? -1.0 : 1.0;
        return sign * (std::abs(turn) < small ? count : std::sin(count * turn) / std::sin(turn));
    };
    const double at = 2 * pi * static_cast<double>(k) / count;
    return (k == 0 ? sum(w) : sum(w - at) + sum(w + at)) / count;
}

// The gains at the places that samples have left are the unknowns: few equations.
Family by_transform(const std::vector<PlacedSample>& samples, const OnGrid& grid,
                    std::size_t length) {
    const Matrix gains = gains_of(samples);
    std::vector<std::size_t> left;
    Matrix a = Matrix::Zero(index(length / 2 + 1), gains.cols());
    for (std::size_t k = 0; k < grid.at.size(); ++k) {
        if (grid.at[k]) {
            a.row(index(k)) = gains.row(index(*grid.at[k]));
        } else {
            left.push_back(k);
        }
    }
    const Index count = index(left.size());
    std::size_t rank = grid.at.size();
    double error = 0;
    if (count > 0) {
        Matrix there(count, count), wanted(count, gains.cols());
        for (Index i = 0; i < count; ++i) {
            const std::size_t sample = grid.beside[static_cast<std::size_t>(i)];
            const double w = samples[sample].w;
            wanted.row(i) = gains.row(index(sample));
            for (std::size_t k = 0; k < grid.at.size(); ++k) {
                if (grid.at[k]) {
                    wanted.row(i) -= amplitude_of_place(k, w, length) * a.row(index(k));
                }
            }
            for (Index j = 0; j < count; ++j) {
                there(i, j) = amplitude_of_place(left[static_cast<std::size_t>(j)], w, length);
            }
        }
        const Eigen::CompleteOrthogonalDecomposition<Matrix> parts(there);
        const Matrix found = parts.solve(wanted);
        error = (there * found.col(0) - wanted.col(0)).lpNorm<Eigen::Infinity>();
        rank -= static_cast<std::size_t>(count - parts.rank());
        for (Index j = 0; j < count; ++j) {
            a.row(index(left[static_cast<std::size_t>(j)])) = found.row(j);
        }
    }
    const LinearPhaseType type(length, false);
    Family family{Matrix(index(length), gains.cols()), rank, error};
    for (Index j = 0; j < gains.cols(); ++j) {
        const Eigen::VectorXd column = a.col(j);
        const auto taps = taps_of_amplitude(type, std::span(column.data(), length / 2 + 1));
        family.taps.col(j) = Eigen::Map<const Eigen::VectorXd>(taps.data(), index(length));
    }
    return family;
}

// --- what is left to the program
// ------------------------------------------------------------------

// Amplitudes of all columns, at 48 places for each tap: in those that are asked for.
class Looked {
public:
    Looked(const Family& family, std::size_t length)
        : family_(family), length_(length), type_(length, false),
          size_(quick_fft_length(std::max<std::size_t>(least_size, places * length))) {
        for (Index j = 0; j < family.taps.cols(); ++j) {
            columns_.push_back(amplitudes(family.taps.col(j)));
        }
    }

    void add(const AmplitudePiece& piece, Equations& equations) const {
        const auto size = static_cast<double>(size_);
        const auto from = static_cast<std::size_t>(std::ceil(piece.gain.from / (2 * pi) * size));
        add_at(piece, piece.gain.from, equations);
        for (std::size_t k = from; k < columns_[0].size(); ++k) {
            const double w = 2 * pi * static_cast<double>(k) / size;
            if (w >= piece.gain.to) {
                break;
            }
            add_row(piece, w, equations, [&](std::size_t j) { return columns_[j][k]; });
        }
        add_at(piece, piece.gain.to, equations);
    }

private:
    static constexpr std::size_t places = 48, least_size = 512;

    std::vector<double> amplitudes(const Eigen::VectorXd& taps) const {
        RealFft fft(size_);
        std::ranges::fill(fft.signal(), 0.0);
        std::ranges::copy(taps, fft.signal().begin());
        fft.to_spectrum();
        std::vector<double> found;
        for (std::size_t k = 0; k < fft.spectrum().size(); ++k) {
            const double w = 2 * pi * static_cast<double>(k) / static_cast<double>(size_);
            found.push_back((fft.spectrum()[k] * std::polar(1.0, w * middle_of(length_))).real());
        }
        return found;
    }
    void add_at(const AmplitudePiece& piece, double w, Equations& equations) const {
        add_row(piece, w, equations, [&](std::size_t j) {
            const Eigen::VectorXd taps = family_.taps.col(index(j));
            return amplitude_at(type_, std::span(taps.data(), length_), w);
        });
    }
    template <class Of>
    void add_row(const AmplitudePiece& piece, double w, Equations& equations,
                 const Of& amplitude) const {
        std::vector<double> row;
        for (std::size_t j = 1; j < columns_.size(); ++j) {
            row.push_back(piece.weight * amplitude(j));
        }
        equations.add(row, piece.weight * (piece.gain.at(w) - amplitude(0)));
    }

    const Family& family_;
    std::size_t length_;
    LinearPhaseType type_;
    std::size_t size_;
    std::vector<std::vector<double>> columns_;
};

LeastGreatest best_of(const Family& family, std::size_t length, const Amplitude& over) {
    Equations equations{static_cast<std::size_t>(family.taps.cols() - 1)};
    const Looked looked(family, length);
    for (const AmplitudePiece& piece : over) {
        looked.add(piece, equations);
    }
    return least_greatest_error(equations);
}

} // namespace

SampledTaps taps_through(const std::vector<PlacedSample>& samples, std::size_t length,
                         double delay_samples, const Amplitude& least_over) {
    const auto grid =
        delay_samples == middle_of(length) ? on_grid_but_few(samples, length) : std::nullopt;
    const Family family = grid ? by_transform(samples, *grid, length)
                               : by_least_squares(samples, length, delay_samples);
    SampledTaps made{{}, family.rank, family.error};
    Eigen::VectorXd taps = family.taps.col(0);
    if (family.taps.cols() > 1) {
        const LeastGreatest best = best_of(family, length, least_over);
        made.chosen = best.unknowns;
        made.worst = best.greatest;
        for (std::size_t j = 0; j < best.unknowns.size(); ++j) {
            taps += best.unknowns[j] * family.taps.col(index(j) + 1);
        }
    }
    made.taps.assign(taps.begin(), taps.end());
    return made;
}

Amplitude stop_stretches(const std::vector<PlacedSample>& samples) {
    std::map<double, bool> is_stop; // by frequency
    for (const PlacedSample& sample : samples) {
        is_stop[sample.w] = sample.gain == 0.0;
    }
    Amplitude stretches;
    if (is_stop.empty()) {
        return stretches;
    }
    const auto add = [&](double from, double to) {
        if (from < to) {
            stretches.push_back({{from, to, 0, 0}, 1});
        }
    };
    if (is_stop.begin()->second) {
        add(0, is_stop.begin()->first);
    }
    for (auto next = std::next(is_stop.begin()); next != is_stop.end(); ++next) {
        const auto before = std::prev(next);
        if (before->second && next->second) {
            add(before->first, next->first);
        }
    }
    if (is_stop.rbegin()->second) {
        add(is_stop.rbegin()->first, pi);
    }
    return stretches;
}

} // namespace syntonon
