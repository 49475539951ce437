// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/compared_chains.h"

#include "app/widgets/words.h"
#include "core/design/modelled_filter.h"
#include "core/engine/word_engine.h"
#include "core/filter/form.h"
#include "core/filter/in_sections.h"
#include "core/study/compared_chain.h"
#include "core/study/words.h"

#include <algorithm>

namespace syntonon {
namespace {

QString words_name(const Delivery& delivery) {
    return tr("words of %1").arg(QString::fromStdString(delivery.name));
}

// Run to the last bit as the delivery's processor does.
Expected<ChainCompared> chain_in_words(const Session& session, const Channel& channel,
                                       const Delivery& delivery, const Filter& chain) {
    return series_parts_of(chain.form())
        .and_then([&](const SeriesParts& parts) {
            return words_of(session.study(), delivery, channel.id, parts);
        })
        .map([](const ChannelWords& words) {
            return ChainCompared{filter_in_words(words.chain), words.is_out_of_date};
        });
}

} // namespace

std::vector<ChainName> comparable_chains(const Session& session) {
    std::vector<ChainName> names;
    const Channel* own = session.channel();
    if (own == nullptr) {
        return names;
    }
    for (const auto& take : own->takes) {
        names.push_back({key_of(*take), QString::fromStdString(take->name)});
    }
    for (const auto& channel : session.study().channels) {
        if (&*channel != own && channel->domain == Domain::sampled) {
            names.push_back({key_of(*channel), QString::fromStdString(channel->name)});
        }
    }
    for (const Delivery& delivery : session.study().deliveries) {
        if (!delivery.processor.empty() && own->domain == Domain::sampled) {
            names.push_back({key_of_words(delivery), words_name(delivery)});
        }
    }
    const auto analysis = session.analysis();
    if (analysis != nullptr && own->domain == Domain::sampled && has_ladder(analysis->chain)) {
        names.push_back({std::string(key_of_state_variables),
                         chain_name(session, std::string(key_of_state_variables))});
    }
    return names;
}

QString chain_name(const Session& session, const std::string& key) {
    const auto found = session.channel() != nullptr
                           ? compared_chain(session.study(), *session.channel(), key)
                           : Expected<ComparedChain>(ComparedChain());
    if (session.channel() == nullptr || !found) {
        return QString::fromStdString(key);
    }
    return found->words != nullptr ? words_name(*found->words)
                                   : QString::fromStdString(found->name());
}

Expected<ChainCompared> chain_compared(Session& session, const std::string& key) {
    const Channel* own = session.channel();
    const auto analysis = session.analysis();
    if (own == nullptr || analysis == nullptr) {
        return refuse("", "there is no channel", "add one");
    }
    const auto found = compared_chain(session.study(), *own, key);
    if (!found) {
        return tl::unexpected(found.error());
    }
    if (found->words != nullptr) {
        return chain_in_words(session, *own, *found->words, analysis->chain);
    }
    if (found->state_variables) {
        const auto plain = with_state_variables(analysis->chain, session.axis());
        return plain ? Expected<ChainCompared>(ChainCompared{*plain})
                     : refuse("", "there is no ladder in the chain", "add one");
    }
    if (found->channel != nullptr) {
        return ChainCompared{session.analysis_of(*found->channel)->chain};
    }
    for (std::size_t i = 0; i < own->takes.size() && i < analysis->takes.size(); ++i) {
        if (&*own->takes[i] == found->take) {
            const TakeAnalysis& take = *analysis->takes[i];
            return take.problem ? Expected<ChainCompared>(tl::unexpected(*take.problem))
                                : ChainCompared{take.chain};
        }
    }
    return refuse("", "it is being worked out", "wait a moment");
}

bool is_compared(const Session& session, const std::string& key) {
    const Channel* own = session.channel();
    return own != nullptr
           && std::ranges::find(own->bench.compared, key) != own->bench.compared.end();
}

void compare_with(Session& session, const std::string& key, bool compares) {
    const QString name = chain_name(session, key);
    session.edit_channel(compares ? tr("Compare with %1").arg(name)
                                  : tr("Compare no longer with %1").arg(name),
                         [&](Channel& channel) {
                             std::erase(channel.bench.compared, key);
                             if (compares) {
                                 channel.bench.compared.push_back(key);
                             }
                         });
}

} // namespace syntonon
