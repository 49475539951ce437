// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/compared_chains.h"

#include "app/widgets/words.h"
#include "core/study/compared_chain.h"

#include <algorithm>

namespace syntonon {

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
    return names;
}

QString chain_name(const Session& session, const std::string& key) {
    const auto found = session.channel() != nullptr
                           ? compared_chain(session.study(), *session.channel(), key)
                           : Expected<ComparedChain>();
    return QString::fromStdString(!found || (found->take == nullptr && found->channel == nullptr)
                                      ? key
                                  : found->take != nullptr ? found->take->name
                                                           : found->channel->name);
}

Expected<Filter> chain_compared(Session& session, const std::string& key) {
    const Channel* own = session.channel();
    const auto analysis = session.analysis();
    if (own == nullptr || analysis == nullptr) {
        return refuse("", "there is no channel", "add one");
    }
    const auto found = compared_chain(session.study(), *own, key);
    if (!found) {
        return tl::unexpected(found.error());
    }
    if (found->channel != nullptr) {
        return session.analysis_of(*found->channel)->chain;
    }
    for (std::size_t i = 0; i < own->takes.size() && i < analysis->takes.size(); ++i) {
        if (&*own->takes[i] == found->take) {
            const TakeAnalysis& take = *analysis->takes[i];
            return take.problem ? Expected<Filter>(tl::unexpected(*take.problem)) : take.chain;
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
