/* Preloaded into a server by tests/powerCut.test.ts: keeps, of every file in the folder WATCHED, a copy in the folder KEPT
   as it was when it was last synchronised. After the process was killed, KEPT is what a power cut would have left of what
   was written, at worst: everything since the last synchronisation is gone. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <fcntl.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <unistd.h>

static void keep(int fd) {
  const char *watched = getenv("WATCHED"), *kept = getenv("KEPT");
  char link[64], path[4096], copy[4096], temporary[4200], buffer[65536];
  if (!watched || !kept) return;
  snprintf(link, sizeof link, "/proc/self/fd/%d", fd);
  ssize_t length = readlink(link, path, sizeof path - 1);
  if (length < 0) return;
  path[length] = 0;
  struct stat about;
  if (strncmp(path, watched, strlen(watched)) || fstat(fd, &about) || !S_ISREG(about.st_mode)) return;
  const char *name = strrchr(path, '/') + 1;
  snprintf(copy, sizeof copy, "%s/%s", kept, name);
  snprintf(temporary, sizeof temporary, "%s.part", copy);
  int out = open(temporary, O_WRONLY | O_CREAT | O_TRUNC, 0600);
  if (out < 0) return;
  for (off_t at = 0; at < about.st_size;) {
    ssize_t n = pread(fd, buffer, sizeof buffer, at);
    if (n <= 0 || write(out, buffer, n) != n) break;
    at += n;
  }
  close(out);
  rename(temporary, copy);
}

/* A journal that was taken away is gone: SQLite synchronises its folder after that. */
int unlink(const char *path) {
  int (*real)(const char *) = dlsym(RTLD_NEXT, "unlink");
  const char *watched = getenv("WATCHED"), *kept = getenv("KEPT");
  int result = real(path);
  if (!result && watched && kept && !strncmp(path, watched, strlen(watched))) {
    char copy[4096];
    snprintf(copy, sizeof copy, "%s/%s", kept, strrchr(path, '/') + 1);
    real(copy);
  }
  return result;
}

int fsync(int fd) {
  int (*real)(int) = dlsym(RTLD_NEXT, "fsync");
  int result = real(fd);
  if (!result) keep(fd);
  return result;
}

int fdatasync(int fd) {
  int (*real)(int) = dlsym(RTLD_NEXT, "fdatasync");
  int result = real(fd);
  if (!result) keep(fd);
  return result;
}
