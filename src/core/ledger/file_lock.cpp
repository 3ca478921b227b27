#include "ledger/file_lock.hpp"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <filesystem>

namespace palinform {
namespace {

/// Opens and locks; −1 where another has it or the place is not to be written.
int locked(const std::string& path) {
  int fd = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0666);
  // Another user's lock, left behind: it may not be written, but reading is enough to lock it.
  if (fd < 0) fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
  if (fd < 0) return -1;
  if (::flock(fd, LOCK_EX | LOCK_NB) == 0) return fd;
  ::close(fd);
  return -1;
}

}  // namespace

FileLock::FileLock(const std::string& path) : path_(path) {
  by_name_ = locked(path + ".lock");
  if (by_name_ >= 0) file_made();
}

FileLock::~FileLock() {
  for (const int fd : {by_name_, by_file_})
    if (fd >= 0) ::close(fd);
}

bool FileLock::file_made() {
  struct stat s {};
  if (::stat(path_.c_str(), &s) != 0) {
    by_file_ = -2;
    return true;
  }
  device_ = s.st_dev, inode_ = s.st_ino;
  if (by_file_ >= 0) return true;
  // Not on the file itself: closing any handle of it would drop the locks the database keeps there.
  std::error_code ec;
  const auto folder = std::filesystem::temp_directory_path(ec);
  by_file_ =
      ec ? -2
         : locked(
               (folder / ("palinform-" + std::to_string(device_) + "-" + std::to_string(inode_) + ".lock")).string());
  return by_file_ != -1;
}

bool FileLock::in_place() const {
  struct stat s {};
  return inode_ == 0 || (::stat(path_.c_str(), &s) == 0 && s.st_dev == device_ && s.st_ino == inode_);
}

}  // namespace palinform
