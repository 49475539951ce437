// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/words_work.h"

#include "app/model/delivery_commands.h"
#include "core/study/channel_parts.h"
#include "core/study/delivery_budget.h"
#include "core/word/word_aim.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {

// All that the answer depends on.
struct WordsWork::Question {
    std::string delivery, channel;
    Expected<SeriesParts> parts;
    Expected<WordFormat> format;
    std::optional<FoundWords> found; // that hold for this design
    bool is_out_of_date = false;
    TableQuestion table;

    bool is_same_as(const Question& other) const {
        const auto is_same_parts = [&] {
            return parts && other.parts && parts->cascade == other.parts->cascade
                   && parts->taps == other.parts->taps
                   && parts->delay_samples == other.parts->delay_samples;
        };
        return delivery == other.delivery && channel == other.channel && is_same_parts()
               && format == other.format && found == other.found
               && is_out_of_date == other.is_out_of_date && table.processor == other.table.processor
               && table.goal == other.table.goal && table.measured == other.table.measured
               && table.axis == other.table.axis;
    }
};

namespace {

constexpr std::size_t drawn_places = 400;

WordsPicture picture_of(const Filter& wished, const Filter& words,
                        const std::optional<Filter>& nearest, bool is_searched,
                        double sample_rate_hz) {
    WordsPicture picture;
    const Axis axis(sample_rate_hz);
    const double low = std::min(20.0, sample_rate_hz / 100), high = sample_rate_hz / 2 * 0.999;
    std::vector<double> hz = wished.telling_hz({low, high, 1.03, axis});
    const EvenSpacing spacing{true, low, high, drawn_places};
    for (std::size_t i = 0; i < drawn_places; ++i) {
        hz.push_back(spacing.at(i));
    }
    std::erase_if(hz, [&](double each) { return each < low || each > high; });
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), axis);
    picture.hz.assign(grid->frequency_hz().begin(), grid->frequency_hz().end());
    picture.ideal_db = wished.magnitude_db(*grid);
    picture.words_db = words.magnitude_db(*grid);
    if (nearest) {
        picture.nearest_off_db = difference_of(nearest->magnitude_db(*grid), picture.ideal_db);
    }
    if (is_searched) {
        picture.searched_off_db = difference_of(picture.words_db, picture.ideal_db);
    }
    return picture;
}

} // namespace

WordsWork::WordsWork(Session& session, QObject* parent) : QObject(parent), session_(session) {}

void WordsWork::look_at(const std::string& delivery) {
    delivery_ = delivery;
    refresh();
}

std::optional<WordsWork::Question> WordsWork::question() const {
    const Study& study = session_.study();
    const Delivery* delivery = delivery_of(study, delivery_);
    const Channel* channel = session_.channel();
    const Processor* processor =
        delivery != nullptr ? processor_of(study, delivery->processor) : nullptr;
    if (channel == nullptr || processor == nullptr) {
        return std::nullopt;
    }
    Briefs& briefs = session_.briefs();
    Question made{delivery->id,
                  channel->id,
                  channel_parts(study, *channel, briefs),
                  word_format(study, *delivery),
                  std::nullopt,
                  false,
                  {}};
    made.table.processor = *processor;
    made.table.goal = briefs.goal_of(study, *channel).goal;
    made.table.measured = briefs.measured_of(study, *channel).value_or(nullptr);
    made.table.axis = axis_of(study, *channel);
    if (made.parts && made.format) {
        made.table.parts = *made.parts;
        const auto words = words_of(study, *delivery, channel->id, *made.parts);
        made.is_out_of_date = delivery->searched && (!words || words->is_out_of_date);
        const auto found = std::ranges::find(delivery->found, channel->id, &FoundWords::channel);
        if (delivery->searched && words && !words->is_out_of_date
            && found != delivery->found.end()) {
            made.found = *found;
        }
    }
    return made;
}

namespace {

Expected<WordsResult> answer(const Expected<SeriesParts>& parts, const Expected<WordFormat>& format,
                             const std::optional<FoundWords>& found, bool is_out_of_date,
                             const TableQuestion& table, const Watch& watch) {
    WordsResult result;
    if (!parts || !format) {
        result.problem = parts ? format.error() : parts.error();
        return result;
    }
    auto made_table = structure_table(table, watch);
    if (!made_table) {
        return tl::unexpected(made_table.error());
    }
    result.table = std::move(*made_table);
    result.is_out_of_date = is_out_of_date;
    const auto nearest = nearest_words(*parts, *format);
    if (found) {
        result.chain = {format->structure, format->sections, format->taps,
                        found->sections,   found->taps,      parts->delay_samples};
        result.is_searched = true;
    } else if (nearest) {
        result.chain = *nearest;
    } else {
        result.problem = nearest.error();
        return result;
    }
    const Filter wished = filter_of(*parts);
    result.picture = picture_of(wished, filter_of(result.chain),
                                nearest ? std::optional(filter_of(*nearest)) : std::nullopt,
                                result.is_searched, table.axis.sample_rate_hz);
    auto facts = word_facts(result.chain, wished, table.axis.sample_rate_hz, watch);
    if (!facts) {
        return tl::unexpected(facts.error());
    }
    result.facts = std::move(*facts);
    return result;
}

} // namespace

void WordsWork::refresh() {
    auto now = question();
    if (!now) {
        asked_ = nullptr;
        facts_.stop();
        if (std::exchange(result_, nullptr) != nullptr) {
            emit changed();
        }
        return;
    }
    if (asked_ != nullptr && now->is_same_as(*asked_)) {
        return;
    }
    asked_ = std::make_shared<const Question>(std::move(*now));
    facts_.begin(
        [question = asked_](const Watch& watch) {
            return answer(question->parts, question->format, question->found,
                          question->is_out_of_date, question->table, watch);
        },
        [this](Expected<WordsResult> result) {
            if (result) {
                result_ = std::make_shared<const WordsResult>(std::move(*result));
                emit changed();
            }
        });
}

void WordsWork::search() {
    const Delivery* delivery = delivery_of(session_.study(), delivery_);
    if (delivery == nullptr || is_searching()) {
        return;
    }
    std::vector<WordSearch> searches;
    for (const Channel* channel : channels_of(session_.study(), *delivery)) {
        auto search = word_search(session_.study(), *delivery, *channel, session_.briefs());
        if (!search) {
            emit search_failed(QString::fromStdString(to_text(search.error())));
            return;
        }
        searches.push_back(std::move(*search));
    }
    using Found = Expected<std::vector<FoundWords>>;
    searching_.begin(
        [searches = std::move(searches)](const Watch& watch) -> Found {
            std::vector<FoundWords> all;
            for (const WordSearch& search : searches) {
                auto found = run(search, watch);
                if (!found) {
                    return tl::unexpected(found.error());
                }
                all.push_back(std::move(*found));
            }
            return all;
        },
        [this, id = delivery->id](const Found& found) {
            emit search_changed();
            if (!found) {
                emit search_failed(QString::fromStdString(to_text(found.error())));
                return;
            }
            edit_delivery(session_, id, tr("search words"), [&](Delivery& changed) {
                changed.searched = true;
                for (const FoundWords& each : *found) {
                    put_found(changed, each);
                }
            });
        });
    emit search_changed();
}

void WordsWork::stop_search() {
    searching_.stop();
    emit search_changed();
}

} // namespace syntonon
