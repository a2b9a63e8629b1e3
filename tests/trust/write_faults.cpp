// A disk that fills up, and a folder that may not be written to, for one program: preloaded (LD_PRELOAD), it lets what
// is written below a folder through up to a number of bytes; then every write fails with "No space left on device".
//   VIRGA_FAULT_FOLDER  only files below it; without it nothing fails
//   VIRGA_FAULT_BYTES   so many bytes go through
//   VIRGA_FAULT_DENY    creating and renaming there fails with "Permission denied"
#include <atomic>
#include <cerrno>
#include <climits>
#include <cstdarg>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <dlfcn.h>
#include <fcntl.h>
#include <sys/uio.h>
#include <unistd.h>

namespace {

std::atomic<long long> written{0};

bool concernsPath(const char* path) {
    const char* folder = getenv("VIRGA_FAULT_FOLDER");
    if (!folder || !path) return false;
    char whole[PATH_MAX];
    if (path[0] != '/') { // relative: below the working directory
        if (!getcwd(whole, sizeof whole)) return false;
        path = whole;
    }
    return strncmp(path, folder, strlen(folder)) == 0;
}

bool concerns(int file) {
    char link[64], path[PATH_MAX];
    snprintf(link, sizeof link, "/proc/self/fd/%d", file);
    const ssize_t n = readlink(link, path, sizeof path - 1);
    if (n <= 0) return false;
    path[n] = 0;
    return concernsPath(path);
}

// Whether so many bytes more are too many.
bool isFull(int file, size_t count) {
    const char* bytes = getenv("VIRGA_FAULT_BYTES");
    if (!bytes || !concerns(file)) return false;
    if (written + (long long)count > atoll(bytes)) return true;
    written += (long long)count;
    return false;
}

bool denied(const char* path, int flags) {
    return getenv("VIRGA_FAULT_DENY") && (flags & (O_WRONLY | O_RDWR | O_CREAT)) && concernsPath(path);
}

} // namespace

extern "C" {

#define REAL(name) const auto real = reinterpret_cast<decltype(&name)>(dlsym(RTLD_NEXT, #name))

ssize_t write(int file, const void* data, size_t count) {
    REAL(write);
    if (isFull(file, count)) return errno = ENOSPC, -1;
    return real(file, data, count);
}

ssize_t pwrite64(int file, const void* data, size_t count, off64_t at) {
    REAL(pwrite64);
    if (isFull(file, count)) return errno = ENOSPC, -1;
    return real(file, data, count, at);
}

ssize_t writev(int file, const struct iovec* parts, int count) {
    REAL(writev);
    size_t all = 0;
    for (int i = 0; i < count; ++i) all += parts[i].iov_len;
    if (isFull(file, all)) return errno = ENOSPC, -1;
    return real(file, parts, count);
}

ssize_t copy_file_range(int from, off64_t* a, int to, off64_t* b, size_t count, unsigned flags) {
    REAL(copy_file_range);
    if (isFull(to, count)) return errno = ENOSPC, -1;
    return real(from, a, to, b, count, flags);
}

#define OPEN(name)                                                                                                     \
    int name(const char* path, int flags, ...) {                                                                       \
        va_list rest;                                                                                                  \
        va_start(rest, flags);                                                                                         \
        const mode_t mode = va_arg(rest, mode_t);                                                                      \
        va_end(rest);                                                                                                  \
        REAL(name);                                                                                                    \
        if (denied(path, flags)) return errno = EACCES, -1;                                                            \
        return real(path, flags, mode);                                                                                \
    }
OPEN(open)
OPEN(open64)

int rename(const char* from, const char* to) {
    REAL(rename);
    if (denied(to, O_WRONLY)) return errno = EACCES, -1;
    return real(from, to);
}

} // extern "C"
