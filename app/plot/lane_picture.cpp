// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_picture.h"

#include "app/plot/lane_stack.h"
#include "core/base/file.h"
#include "core/exchange/curve_table.h"

#include <QBuffer>
#include <QClipboard>
#include <QFileInfo>
#include <QGuiApplication>
#include <QPdfWriter>
#include <QSvgGenerator>
#include <memory>

namespace syntonon {
namespace {

// The same lanes on no screen, of their own size.
std::unique_ptr<LaneStack> twin_of(const LaneStack& lanes, std::optional<Lane> lane) {
    auto twin = lanes.has_grips() ? std::make_unique<LaneStack>(lanes.session())
                                  : std::make_unique<LaneStack>(lanes.session(), lanes.maker());
    LaneView view = lanes.view();
    if (lane) {
        for (const Lane other : all_lanes) {
            view.show(other, other == *lane);
        }
    }
    twin->change_view(view);
    twin->set_zoom(lanes.zoom());
    twin->show_like(lanes);
    return twin;
}

QSize size_of(const LaneStack& lanes, std::optional<Lane> lane) {
    // A lane alone keeps its width and gets room for the frequency axis.
    const int height = lane ? std::max(260, lanes.rect_of(*lane).height() + 60) : lanes.height();
    return {std::max(480, lanes.width()), height};
}

Expected<void> write(const QString& path, const QByteArray& bytes) {
    return write_file_atomically(
        path.toStdString(), std::string_view(bytes.data(), static_cast<std::size_t>(bytes.size())));
}

QByteArray png_of(const LaneStack& lanes, std::optional<Lane> lane) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    lane_image(lanes, lane).save(&buffer, "PNG");
    return bytes;
}

QByteArray svg_of(const LaneStack& lanes, std::optional<Lane> lane) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    const QSize size = size_of(lanes, lane);
    QSvgGenerator generator;
    generator.setOutputDevice(&buffer);
    generator.setSize(size);
    generator.setViewBox(QRect(QPoint(0, 0), size));
    generator.setTitle(QObject::tr("Syntonon lanes"));
    twin_of(lanes, lane)->paint_onto(generator, size);
    return bytes;
}

QByteArray pdf_of(const LaneStack& lanes, std::optional<Lane> lane) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    const QSize size = size_of(lanes, lane);
    constexpr int pixels_an_inch = 96;
    {
        QPdfWriter writer(&buffer);
        writer.setResolution(pixels_an_inch);
        writer.setPageMargins(QMarginsF());
        writer.setPageSize(QPageSize(QSizeF(size) / pixels_an_inch, QPageSize::Inch));
        twin_of(lanes, lane)->paint_onto(writer, size);
    }
    return bytes;
}

} // namespace

QImage lane_image(const LaneStack& lanes, std::optional<Lane> lane) {
    constexpr int sharper = 2; // pixels a pixel: pictures end in documents
    const QSize size = size_of(lanes, lane);
    QImage image(size * sharper, QImage::Format_RGB32);
    image.setDevicePixelRatio(sharper);
    twin_of(lanes, lane)->paint_onto(image, size);
    return image;
}

Expected<void> save_lanes(LaneStack& lanes, std::optional<Lane> lane, const QString& path) {
    const QString ending = QFileInfo(path).suffix().toLower();
    if (ending == "png") {
        return write(path, png_of(lanes, lane));
    }
    if (ending == "svg") {
        return write(path, svg_of(lanes, lane));
    }
    if (ending == "pdf") {
        return write(path, pdf_of(lanes, lane));
    }
    if (ending == "csv") {
        const Session& session = lanes.session();
        if (session.channel() == nullptr) {
            return refuse("", "there is no channel to save the curves of", "add one");
        }
        return write_file_atomically(
            path.toStdString(),
            curve_table(session.study(), *session.channel(), *session.analysis()));
    }
    return refuse(path.toStdString(), "the file's ending says no format that is known",
                  "end the name in .png, .svg, .pdf or .csv");
}

void copy_lanes(const LaneStack& lanes, std::optional<Lane> lane) {
    QGuiApplication::clipboard()->setImage(lane_image(lanes, lane));
}

} // namespace syntonon
