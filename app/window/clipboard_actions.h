#pragma once
// What copying, pasting, deleting and selecting all mean in the window: keys, while some are selected, otherwise what
// is selected in the Reel.
namespace virga {

class Document;
class LanesView;
class NoticeBar;

void copySelected(const Document& document, LanesView& lanes);
void pasteClipboard(Document& document, LanesView& lanes, NoticeBar& notice);
void deleteSelected(Document& document, LanesView& lanes);
void selectAllKeys(LanesView& lanes);

} // namespace virga
