// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/deliver/processor_fields.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <QStringList>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

QString number_shown(double value) {
    return QString::fromStdString(shortest_text(value));
}

Expected<double> number_typed(const QString& text) {
    const auto value = number_from_text(text.trimmed().toStdString());
    if (!value || !std::isfinite(*value)) {
        return refuse("", fmt::format("“{}” is not a number", text.toStdString()),
                      "write digits, as 24.576e6");
    }
    return *value;
}

Expected<int> count_typed(const QString& text) {
    const auto value = number_typed(text);
    if (!value) {
        return tl::unexpected(value.error());
    }
    if (*value != std::floor(*value) || std::abs(*value) > 1e9) {
        return refuse("", fmt::format("{} is not a whole number", *value), "write one");
    }
    return static_cast<int>(*value);
}

ProcessorField title(const QString& caption) {
    ProcessorField field;
    field.caption = caption;
    field.is_title = true;
    return field;
}

ProcessorField text_field(const QString& caption, std::string Processor::*member) {
    return {caption,
            {},
            [member](const Processor& p) { return QString::fromStdString(p.*member); },
            [member](Processor& p, const QString& text) -> Expected<void> {
                p.*member = text.trimmed().toStdString();
                return {};
            }};
}

ProcessorField number_field(const QString& caption, double Processor::*member,
                            const QString& tip = {}) {
    return {caption, tip, [member](const Processor& p) { return number_shown(p.*member); },
            [member](Processor& p, const QString& text) {
                return number_typed(text).map([&](double value) { p.*member = value; });
            }};
}

// Empty: no limit.
template <class T>
ProcessorField limit_field(const QString& caption, std::optional<T> Processor::*member,
                           const QString& tip = {}) {
    return {caption, tip.isEmpty() ? QObject::tr("Empty: no limit") : tip,
            [member](const Processor& p) {
                return p.*member ? number_shown(static_cast<double>(*(p.*member))) : QString();
            },
            [member](Processor& p, const QString& text) -> Expected<void> {
                if (text.trimmed().isEmpty()) {
                    (p.*member).reset();
                    return {};
                }
                if constexpr (std::is_same_v<T, int>) {
                    return count_typed(text).map([&](int value) { p.*member = value; });
                } else {
                    return number_typed(text).map([&](double value) { p.*member = value; });
                }
            }};
}

using Words = Arithmetic Processor::*;

ProcessorField word_field(const QString& caption, Words words, Word Arithmetic::*member,
                          int most_bits = most_word_bits) {
    return {caption,
            QObject::tr("float32, float64, or Q with its bits before and behind the point: "
                        "Q1.15 has 16"),
            [=](const Processor& p) { return QString::fromStdString(text_of(p.*words.*member)); },
            [=](Processor& p, const QString& text) {
                return word_from_text(text.trimmed().toStdString(), most_bits)
                    .map([&](const Word& word) { p.*words.*member = word; });
            }};
}

// One of a few words.
template <class T, class Get, class Set>
ProcessorField choice_field(const QString& caption, std::vector<T> values, Get get, Set set) {
    QStringList names;
    for (const T value : values) {
        names << text_of(key_of(value));
    }
    const QString tip = names.join(QObject::tr(", "));
    return {caption, tip, [get](const Processor& p) { return text_of(key_of(get(p))); },
            [values = std::move(values), set, tip](Processor& p,
                                                   const QString& text) -> Expected<void> {
                const std::string typed = text.trimmed().toStdString();
                for (const T value : values) {
                    if (key_of(value) == typed) {
                        set(p, value);
                        return {};
                    }
                }
                return refuse("", fmt::format("“{}” is none of them", typed),
                              "use " + tip.toStdString());
            }};
}

void add_words(const QString& of, Words words, std::vector<ProcessorField>& all) {
    all.push_back(title(of));
    all.push_back(word_field(QObject::tr("coefficient"), words, &Arithmetic::coefficient));
    all.push_back({QObject::tr("shift"),
                   QObject::tr("A coefficient is held divided by 2 to that power"),
                   [=](const Processor& p) { return QString::number((p.*words).shift); },
                   [=](Processor& p, const QString& text) {
                       return count_typed(text).map([&](int value) { (p.*words).shift = value; });
                   }});
    all.push_back(word_field(QObject::tr("signal"), words, &Arithmetic::data));
    all.push_back(word_field(QObject::tr("state"), words, &Arithmetic::state));
    all.push_back(word_field(QObject::tr("accumulator"), words, &Arithmetic::accumulator,
                             most_accumulator_bits));
    all.push_back(choice_field<Rounding>(
        QObject::tr("rounding"), {Rounding::truncate, Rounding::nearest, Rounding::convergent},
        [=](const Processor& p) { return (p.*words).rounding; },
        [=](Processor& p, Rounding value) { (p.*words).rounding = value; }));
    all.push_back(choice_field<Overflow>(
        QObject::tr("beyond its ends"), {Overflow::saturate, Overflow::wrap},
        [=](const Processor& p) { return (p.*words).overflow; },
        [=](Processor& p, Overflow value) { (p.*words).overflow = value; }));
    all.push_back(choice_field<Overflow>(
        QObject::tr("accumulator beyond its ends"), {Overflow::saturate, Overflow::wrap},
        [=](const Processor& p) { return (p.*words).accumulator_overflow; },
        [=](Processor& p, Overflow value) { (p.*words).accumulator_overflow = value; }));
}

// "direct_form_1 6, transposed_form_2 5"
ProcessorField structures_field() {
    return {QObject::tr("structures, cycles each"),
            QObject::tr("Names and cycles of a section and sample: direct_form_1 6, "
                        "transposed_form_2 5"),
            [](const Processor& p) {
                QStringList parts;
                for (const StructureCycles& each : p.structures) {
                    parts << text_of(named(structures(), each.structure).key) + QStringLiteral(" ")
                                 + number_shown(each.cycles);
                }
                return parts.join(QStringLiteral(", "));
            },
            [](Processor& p, const QString& text) -> Expected<void> {
                std::vector<StructureCycles> read;
                for (const QString& part : text.split(',', Qt::SkipEmptyParts)) {
                    const QStringList words = part.simplified().split(' ');
                    const auto known = std::ranges::find(structures(), words.front().toStdString(),
                                                         &NamedValue<Structure>::key);
                    if (known == structures().end() || words.size() != 2) {
                        std::string names;
                        for (const auto& each : structures()) {
                            names += (names.empty() ? "" : ", ") + std::string(each.key);
                        }
                        return refuse(
                            "",
                            fmt::format("“{}” is no structure with its cycles", part.toStdString()),
                            "use " + names + ", each with a number");
                    }
                    const auto cycles = number_typed(words[1]);
                    if (!cycles) {
                        return tl::unexpected(cycles.error());
                    }
                    read.push_back({known->value, *cycles});
                }
                p.structures = std::move(read);
                return {};
            }};
}

template <class T>
ProcessorField list_field(const QString& caption, std::vector<T> Processor::*member,
                          const QString& tip) {
    return {caption, tip,
            [member](const Processor& p) {
                QStringList parts;
                for (const T value : p.*member) {
                    parts << number_shown(static_cast<double>(value));
                }
                return parts.join(QStringLiteral(", "));
            },
            [member](Processor& p, const QString& text) -> Expected<void> {
                std::vector<T> read;
                for (const QString& part : text.split(',', Qt::SkipEmptyParts)) {
                    const auto value = number_typed(part);
                    if (!value) {
                        return tl::unexpected(value.error());
                    }
                    if (std::is_same_v<T, int> && *value != std::floor(*value)) {
                        return refuse("", fmt::format("{} is not a whole number", *value),
                                      "write whole numbers");
                    }
                    read.push_back(static_cast<T>(*value));
                }
                p.*member = std::move(read);
                return {};
            }};
}

// "64, 1.6, 1.5", or empty.
ProcessorField block_convolution_field() {
    return {
        QObject::tr("block convolution"),
        QObject::tr("Taps of a part, cycles of a transform by 2P log2 2P, cycles of a product of "
                    "bins: 64, 1.6, 1.5. Empty: it has none"),
        [](const Processor& p) {
            return p.block_convolution
                       ? QStringLiteral("%1, %2, %3")
                             .arg(p.block_convolution->part_taps)
                             .arg(number_shown(p.block_convolution->transform_cycles),
                                  number_shown(p.block_convolution->bin_cycles))
                       : QString();
        },
        [](Processor& p, const QString& text) -> Expected<void> {
            const QStringList parts = text.split(',', Qt::SkipEmptyParts);
            if (parts.isEmpty()) {
                p.block_convolution.reset();
                return {};
            }
            if (parts.size() != 3) {
                return refuse("", "three numbers are wanted", "as 64, 1.6, 1.5");
            }
            const auto taps = count_typed(parts[0]);
            const auto transform = number_typed(parts[1]), bin = number_typed(parts[2]);
            if (!taps || !transform || !bin) {
                return tl::unexpected(!taps        ? taps.error()
                                      : !transform ? transform.error()
                                                   : bin.error());
            }
            p.block_convolution = BlockConvolution{*taps, *transform, *bin};
            return {};
        }};
}

ProcessorField order_field() {
    return {
        QObject::tr("order"), QObject::tr("Of a section in a direct form"),
        [](const Processor& p) { return QString::fromStdString(order_text(p.convention.order)); },
        [](Processor& p, const QString& text) {
            return order_from_text(text.toStdString()).map([&](std::vector<Term> order) {
                p.convention.order = std::move(order);
            });
        }};
}

} // namespace

std::vector<ProcessorField> processor_fields(const Processor&) {
    std::vector<ProcessorField> all;
    all.push_back(text_field(QObject::tr("name"), &Processor::name));
    all.push_back(text_field(QObject::tr("note"), &Processor::note));
    all.push_back(list_field<double>(QObject::tr("sample rates, Hz"), &Processor::sample_rates_hz,
                                     QObject::tr("Empty: any")));
    add_words(QObject::tr("Words of sections"), &Processor::section_words, all);
    add_words(QObject::tr("Words of taps"), &Processor::tap_words, all);
    all.push_back(title(QObject::tr("Sections")));
    all.push_back(structures_field());
    all.push_back(choice_field<FeedbackSign>(
        QObject::tr("a1 and a2 are"), {FeedbackSign::subtracted, FeedbackSign::added},
        [](const Processor& p) { return p.convention.feedback; },
        [](Processor& p, FeedbackSign value) { p.convention.feedback = value; }));
    all.push_back(order_field());
    all.push_back(limit_field(QObject::tr("|b| below"), &Processor::b_below));
    all.push_back(limit_field(QObject::tr("|a| below"), &Processor::a_below));
    all.push_back(limit_field(QObject::tr("most sections"), &Processor::most_sections));
    all.push_back(title(QObject::tr("FIR")));
    all.push_back(number_field(QObject::tr("cycles a tap"), &Processor::tap_cycles));
    all.push_back(block_convolution_field());
    all.push_back(limit_field(QObject::tr("most taps"), &Processor::most_taps));
    all.push_back(title(QObject::tr("Machine")));
    all.push_back(number_field(QObject::tr("clock, Hz"), &Processor::clock_hz));
    all.push_back(number_field(QObject::tr("usable share"), &Processor::usable_share,
                               QObject::tr("Of its time, up to 1")));
    all.push_back(number_field(QObject::tr("cycles a channel"), &Processor::channel_cycles));
    all.push_back(number_field(QObject::tr("cycles a block"), &Processor::block_cycles));
    all.push_back(list_field<int>(QObject::tr("block sizes"), &Processor::block_frames,
                                  QObject::tr("Frames; 1: sample by sample")));
    all.push_back(
        limit_field(QObject::tr("coefficient memory, words"), &Processor::coefficient_words));
    all.push_back(limit_field(QObject::tr("state memory, words"), &Processor::state_words));
    all.push_back(
        number_field(QObject::tr("converters' latency, samples"), &Processor::converter_samples));
    return all;
}

} // namespace syntonon
