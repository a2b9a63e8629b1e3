#pragma once
// A list whose copies share their elements until one of them is changed: copying a reel of ten thousand clips copies
// pointers, and comparing it with what it was compares few clips. Reads and writes as std::vector does. Different
// copies may be used on different threads.
//
// A reference that can be changed must not be kept across a copy of its list: what is written to it then would show in
// both.
#include <algorithm>
#include <atomic>
#include <compare>
#include <cstddef>
#include <initializer_list>
#include <iterator>
#include <utility>
#include <vector>

namespace virga {

/// Whether two elements are equal, at once where they are one and the same.
template <typename T> bool isSame(const T& a, const T& b) {
    return &a == &b || a == b;
}

template <typename T> class SharedList {
    struct Box {
        std::atomic<std::size_t> users{1};
        T value;
        template <typename... Arguments> explicit Box(Arguments&&... from) : value(std::forward<Arguments>(from)...) {}
    };

    // One element, perhaps of many lists. Empty once it was moved from.
    class Item {
    public:
        explicit Item(Box* box) : m_box(box) {}
        Item(const Item& o) : m_box(o.m_box) {
            if (m_box) m_box->users.fetch_add(1, std::memory_order_relaxed);
        }
        Item(Item&& o) noexcept : m_box(std::exchange(o.m_box, nullptr)) {}
        Item& operator=(Item o) noexcept {
            std::swap(m_box, o.m_box);
            return *this;
        }
        ~Item() {
            if (m_box && m_box->users.fetch_sub(1, std::memory_order_acq_rel) == 1) delete m_box;
        }
        const T& get() const { return m_box->value; }
        T& own() {
            if (m_box->users.load(std::memory_order_acquire) != 1) *this = Item(new Box(std::as_const(m_box->value)));
            return m_box->value;
        }

    private:
        Box* m_box;
    };

    template <bool constant> class Iterator {
    public:
        using iterator_category = std::random_access_iterator_tag;
        using value_type = T;
        using difference_type = std::ptrdiff_t;
        using reference = std::conditional_t<constant, const T&, T&>;
        using pointer = std::conditional_t<constant, const T*, T*>;
        using Place = std::conditional_t<constant, const Item*, Item*>;

        Iterator() = default;
        explicit Iterator(Place at) : m_at(at) {}
        operator Iterator<true>() const { return Iterator<true>(m_at); }
        reference operator*() const {
            if constexpr (constant)
                return m_at->get();
            else
                return m_at->own();
        }
        pointer operator->() const { return &**this; }
        reference operator[](difference_type n) const { return *(*this + n); }
        Iterator& operator+=(difference_type n) { return m_at += n, *this; }
        Iterator& operator-=(difference_type n) { return m_at -= n, *this; }
        Iterator& operator++() { return ++m_at, *this; }
        Iterator& operator--() { return --m_at, *this; }
        Iterator operator++(int) { return Iterator(m_at++); }
        Iterator operator--(int) { return Iterator(m_at--); }
        friend Iterator operator+(Iterator i, difference_type n) { return i += n; }
        friend Iterator operator+(difference_type n, Iterator i) { return i += n; }
        friend Iterator operator-(Iterator i, difference_type n) { return i -= n; }
        friend difference_type operator-(Iterator a, Iterator b) { return a.m_at - b.m_at; }
        friend bool operator==(Iterator a, Iterator b) { return a.m_at == b.m_at; }
        friend auto operator<=>(Iterator a, Iterator b) { return a.m_at <=> b.m_at; }

    private:
        friend class SharedList;
        Place m_at = nullptr;
    };

public:
    using value_type = T;
    using size_type = std::size_t;
    using difference_type = std::ptrdiff_t;
    using reference = T&;
    using const_reference = const T&;
    using iterator = Iterator<false>;
    using const_iterator = Iterator<true>;

    SharedList() = default;
    explicit SharedList(std::size_t count) { resize(count); }
    SharedList(std::initializer_list<T> from) : SharedList(from.begin(), from.end()) {}
    template <std::input_iterator From> SharedList(From first, From last) { assign(first, last); }

    std::size_t size() const { return m_items.size(); }
    bool empty() const { return m_items.empty(); }
    void reserve(std::size_t count) { m_items.reserve(count); }
    void clear() { m_items.clear(); }
    void resize(std::size_t count) {
        if (count < size()) m_items.erase(m_items.begin() + std::ptrdiff_t(count), m_items.end());
        while (size() < count) emplace_back();
    }

    const T& operator[](std::size_t i) const { return m_items[i].get(); }
    T& operator[](std::size_t i) { return m_items[i].own(); }
    const T& front() const { return m_items.front().get(); }
    T& front() { return m_items.front().own(); }
    const T& back() const { return m_items.back().get(); }
    T& back() { return m_items.back().own(); }
    const_iterator begin() const { return const_iterator(m_items.data()); }
    const_iterator end() const { return const_iterator(m_items.data() + size()); }
    iterator begin() { return iterator(m_items.data()); }
    iterator end() { return iterator(m_items.data() + size()); }
    const_iterator cbegin() const { return begin(); }
    const_iterator cend() const { return end(); }
    auto rbegin() const { return std::reverse_iterator(begin() + difference_type(size())); }
    auto rend() const { return std::reverse_iterator(begin()); }

    template <typename... Arguments> T& emplace_back(Arguments&&... from) {
        m_items.push_back(made(std::forward<Arguments>(from)...));
        return m_items.back().own();
    }
    void push_back(const T& value) { m_items.push_back(made(value)); }
    void push_back(T&& value) { m_items.push_back(made(std::move(value))); }
    void pop_back() { m_items.pop_back(); }
    iterator insert(const_iterator at, T value) {
        const auto place = placeOf(at);
        return iterator(&*m_items.insert(place, made(std::move(value))));
    }
    /// Elements of another list are shared with it.
    template <std::input_iterator From> iterator insert(const_iterator at, From first, From last) {
        const auto index = at - cbegin();
        std::vector<Item> more = items(first, last);
        m_items.insert(m_items.begin() + index, std::move_iterator(more.begin()), std::move_iterator(more.end()));
        return begin() + index;
    }
    template <std::input_iterator From> void assign(From first, From last) { m_items = items(first, last); }
    iterator erase(const_iterator at) { return erase(at, at + 1); }
    iterator erase(const_iterator first, const_iterator last) {
        const auto index = first - cbegin();
        m_items.erase(placeOf(first), placeOf(last));
        return begin() + index;
    }

    friend bool operator==(const SharedList& a, const SharedList& b) {
        return std::equal(a.begin(), a.end(), b.begin(), b.end(), isSame<T>);
    }
    /// Removes what `gone` holds for; the others stay shared. Returns how many went.
    template <typename Gone> friend std::size_t erase_if(SharedList& list, Gone gone) {
        return std::erase_if(list.m_items, [&](const Item& item) { return gone(item.get()); });
    }

private:
    template <typename... Arguments> static Item made(Arguments&&... from) {
        return Item(new Box(std::forward<Arguments>(from)...));
    }
    auto placeOf(const_iterator at) { return m_items.begin() + (at - cbegin()); }
    template <typename From> static std::vector<Item> items(From first, From last) {
        std::vector<Item> made;
        if constexpr (std::is_same_v<From, const_iterator> || std::is_same_v<From, iterator>) {
            made.assign(first.m_at, last.m_at);
        } else {
            for (; first != last; ++first) made.push_back(SharedList::made(*first));
        }
        return made;
    }

    std::vector<Item> m_items;
};

/// Lists of either kind, for what handles fields of any type.
template <typename T> inline constexpr bool isList = false;
template <typename T> inline constexpr bool isList<std::vector<T>> = true;
template <typename T> inline constexpr bool isList<SharedList<T>> = true;
template <typename T>
concept List = isList<T>;

} // namespace virga
