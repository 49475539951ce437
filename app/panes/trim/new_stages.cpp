// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/new_stages.h"

#include "app/panes/trim/trim_panels.h"

#include <QMenu>
#include <map>
#include <utility>

namespace syntonon {
namespace {

template <std::size_t... i>
std::vector<NewStage> offers_of_all(std::index_sequence<i...>) {
    std::vector<NewStage> offers;
    (offer(std::variant_alternative_t<i, AnyKind::variant>(), offers), ...);
    return offers;
}

} // namespace

void fill_with_new_stages(QMenu& menu, QObject* context,
                          const std::function<void(const StageSpec&)>& chosen) {
    std::map<QString, QMenu*> groups;
    for (const NewStage& choice : new_stages()) {
        QMenu* to = &menu;
        if (!choice.group.isEmpty()) {
            QMenu*& own = groups[choice.group];
            own = own != nullptr ? own : menu.addMenu(choice.group);
            to = own;
        }
        QObject::connect(to->addAction(choice.title), &QAction::triggered, context,
                         [chosen, spec = choice.spec] { chosen(spec); });
    }
}

const std::vector<NewStage>& new_stages() {
    static const std::vector<NewStage> all =
        offers_of_all(std::make_index_sequence<std::variant_size_v<AnyKind::variant>>());
    return all;
}

} // namespace syntonon
