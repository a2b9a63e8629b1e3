#include "core/project/project_text.h"

#include <set>

#include "core/base/json.h"
#include "core/project/limits.h"
#include "core/project/project_json.h"

namespace virga {
namespace {

// A dumped value as an element of a list at the document's top: two spaces deep.
std::string asElement(const nlohmann::json& value) {
    const std::string text = jsonText(value, 1);
    std::string deep = "  ";
    deep.reserve(text.size() + text.size() / 8);
    for (const char c : text) {
        deep += c;
        if (c == '\n') deep += "  "; // a line's end in a value is written \n
    }
    return deep;
}

std::string asList(const std::vector<std::string>& elements) {
    if (elements.empty()) return "[]";
    std::size_t length = 8;
    for (const std::string& e : elements) length += e.size() + 2;
    std::string list;
    list.reserve(length);
    list = "[\n";
    for (std::size_t i = 0; i < elements.size(); ++i) list += elements[i] + (i + 1 < elements.size() ? ",\n" : "\n ]");
    return list;
}

// The list in the place of the empty one that the document has.
void put(std::string& text, const std::string& name, const std::string& list) {
    const std::string empty = "\n \"" + name + "\": []"; // one space deep there is only the document's own field
    if (const auto at = text.find(empty); at != text.npos) text.replace(at + empty.size() - 2, 2, list);
}

template <typename T> bool hasIdTwice(const SharedList<T>& list) {
    std::set<std::string_view> seen;
    for (const T& element : list)
        if (!seen.insert(element.id).second) return true;
    return false;
}

template <typename T> SharedList<T> chosen(const SharedList<T>& from, const std::vector<std::size_t>& which) {
    SharedList<T> some;
    for (const std::size_t i : which) some.push_back(from[i]);
    return some;
}

} // namespace

// The list's texts as far as they are known, the others' places in `missing`.
template <typename T> void ProjectText::Texts<T>::takeOver(const SharedList<T>& list) {
    std::vector<std::string> next(list.size());
    std::unordered_map<const T*, std::size_t> nextAt;
    nextAt.reserve(list.size());
    missing.clear();
    for (std::size_t i = 0; i < list.size(); ++i) {
        const T* element = &list[i];
        if (const auto known = at.find(element); known != at.end() && !nextAt.contains(element))
            next[i] = std::move(texts[known->second]);
        else
            missing.push_back(i);
        nextAt.emplace(element, i);
    }
    of = list;
    at = std::move(nextAt);
    texts = std::move(next);
}

std::string ProjectText::of(const Project& project, const std::filesystem::path& folder, const Beside& beside) {
    const auto withBeside = [&](nlohmann::json document) {
        for (const auto& [name, value] : beside) document[name] = value;
        return jsonText(document, 1);
    };
    // Unknown fields of elements that share an id go by their order, which a part of the list does not have.
    if (hasIdTwice(project.reel) || hasIdTwice(project.media)) {
        m_made = project.reel.size() + project.media.size();
        return withBeside(toJson(withinLimits(project), folder));
    }
    if (!m_whole || folder != m_folder || project.unknown != m_unknown) m_reel = {}, m_media = {};
    m_whole = false;
    m_folder = folder;
    m_unknown = project.unknown;
    m_reel.takeOver(project.reel);
    m_media.takeOver(project.media);
    m_made = m_reel.missing.size() + m_media.missing.size();
    Project rest = project;
    rest.reel = chosen(project.reel, m_reel.missing);
    rest.media = chosen(project.media, m_media.missing);
    nlohmann::json document = toJson(withinLimits(rest), folder);
    for (std::size_t i = 0; i < m_reel.missing.size(); ++i)
        m_reel.texts[m_reel.missing[i]] = asElement(document["reel"][i]);
    for (std::size_t i = 0; i < m_media.missing.size(); ++i)
        m_media.texts[m_media.missing[i]] = asElement(document["media"][i]);
    document["reel"] = document["media"] = nlohmann::json::array();
    std::string text = withBeside(std::move(document));
    put(text, "media", asList(m_media.texts));
    put(text, "reel", asList(m_reel.texts));
    m_whole = true;
    return text;
}

} // namespace virga
