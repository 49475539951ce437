// The manual's text: pages of Markdown that lie beside the program, with sections by headings.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QList>
#include <QString>
#include <optional>

namespace syntonon {

// A page and a heading on it: "chain#classical-filters"; without a heading its begin.
struct ManualSpot {
    QString page, section;

    bool operator==(const ManualSpot&) const = default;
};
// Of a link, as "chain.md#splits" on a page has it.
ManualSpot spot_of(const QString& link);

struct ManualSection {
    ManualSpot spot;
    QString title, text; // Markdown, below its heading
};
struct ManualPage {
    QString name, title;
    QString text; // all of it, Markdown
    QList<ManualSection> sections;
};

// The heading as links name it: lower case, "-" for what is no letter and no figure.
QString slug_of(const QString& heading);

// Where the pages are; empty where they are missing.
QString manual_folder();
// Nothing where there is no such page.
std::optional<ManualPage> manual_page(const QString& name);
// In the order of the table of contents.
QList<ManualPage> manual_pages();

} // namespace syntonon
