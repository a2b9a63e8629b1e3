#include "app/window/clipboard_actions.h"

#include <QClipboard>
#include <QGuiApplication>

#include "app/commands/key_commands.h"
#include "app/commands/reel_commands.h"
#include "app/lanes/lanes_view.h"
#include "app/window/notice_bar.h"
#include "core/curve/css_easing.h"

namespace virga {

void copySelected(const Document& document, LanesView& lanes) {
    const std::string text =
        lanes.hasKeys() ? copiedKeys(*document.project(), lanes.context()->selected()) : copySelection(document);
    if (!text.empty()) QGuiApplication::clipboard()->setText(QString::fromStdString(text));
}

void pasteClipboard(Document& document, LanesView& lanes, NoticeBar& notice) {
    const std::string text = QGuiApplication::clipboard()->text().toStdString();
    const bool shape = lanes.hasKeys() && easingFromCss(text).has_value();
    const QString said = holdsKeys(text) || shape ? lanes.paste(text, false, false) : paste(document, text);
    if (!said.isEmpty()) notice.tell(NoticeBar::tr("Nothing was pasted."), said);
}

void deleteSelected(Document& document, LanesView& lanes) {
    if (lanes.hasKeys())
        deleteKeys(document, lanes.context()->selected());
    else
        deleteSelection(document);
}

void selectAllKeys(LanesView& lanes) {
    LaneContext* context = lanes.context();
    context->select(keysOfStack(*context->document()->project(), context->place()));
}

} // namespace virga
