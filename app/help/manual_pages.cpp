// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/manual_pages.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QRegularExpression>

namespace syntonon {
namespace {

constexpr auto contents_page = "contents";

QString text_of_page(const QString& name) {
    QFile file(manual_folder() + "/" + name + ".md");
    return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

QString without_ends(const QString& text, const QString& ending) {
    return text.endsWith(ending) ? text.chopped(ending.size()) : text;
}

} // namespace

ManualSpot spot_of(const QString& link) {
    const qsizetype mark = link.indexOf('#');
    return {without_ends(mark < 0 ? link : link.left(mark), ".md"),
            mark < 0 ? QString() : link.mid(mark + 1)};
}

QString slug_of(const QString& heading) {
    QString slug;
    for (const QChar c : heading.toLower()) {
        if (c.isLetterOrNumber()) {
            slug += c;
        } else if ((c == ' ' || c == '-') && !slug.endsWith('-')) {
            slug += '-';
        }
    }
    return without_ends(slug, "-");
}

// Beside the program as it is installed, and in a folder that it was built in.
QString manual_folder() {
    const QString folder =
        QCoreApplication::applicationDirPath() + "/../share/syntonon/docs/manual";
    return QDir(folder).exists() ? QDir(folder).canonicalPath() : QString();
}

std::optional<ManualPage> manual_page(const QString& name) {
    // Of the manual, or one of the documents that lie beside it.
    static const QRegularExpression plain(R"(^(\.\./)?[a-z0-9-]+$)");
    if (!plain.match(name).hasMatch()) {
        return std::nullopt;
    }
    ManualPage page{name, {}, text_of_page(name), {}};
    if (page.text.isEmpty()) {
        return std::nullopt;
    }
    ManualSection* section = nullptr;
    for (const QString& line : page.text.split('\n')) {
        if (line.startsWith("# ")) {
            page.title = line.mid(2);
        } else if (line.startsWith("## ")) {
            page.sections.append({{name, slug_of(line.mid(3))}, line.mid(3), {}});
            section = &page.sections.last();
        } else if (section != nullptr) {
            section->text += line + '\n';
        }
    }
    return page;
}

QList<ManualPage> manual_pages() {
    QList<ManualPage> pages;
    const auto contents = manual_page(contents_page);
    if (!contents) {
        return pages;
    }
    pages.append(*contents);
    static const QRegularExpression link(R"(\]\(([a-z-]+)\.md\))");
    for (auto at = link.globalMatch(contents->text); at.hasNext();) {
        if (auto page = manual_page(at.next().captured(1))) {
            pages.append(std::move(*page));
        }
    }
    return pages;
}

} // namespace syntonon
