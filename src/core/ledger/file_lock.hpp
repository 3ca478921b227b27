#pragma once
/// Who may write a file: the first process that asks, until it ends however it ends.
#include <memory>
#include <string>

namespace palinform {

/// Holds the file's own lock, by the file itself and not by its name: a hard link is the same file. The kernel drops it
/// with the process, so a kill never leaves anything shut.
class FileLock {
 public:
  /// Tries both the name's lock (`<path>.lock`, also seen from other machines) and, once the file is there, its own.
  explicit FileLock(const std::string& path);
  ~FileLock();
  FileLock(const FileLock&) = delete;
  FileLock& operator=(const FileLock&) = delete;
  bool held() const { return by_name_ >= 0 && by_file_ != -1; }
  /// Takes the file's own lock now that the file was made. False where another has it.
  bool file_made();
  /// Is the path still the file that was locked? False when it was moved, replaced or removed.
  bool in_place() const;

 private:
  std::string path_;
  int by_name_ = -1;
  int by_file_ = -1;  ///< −2: the file is not there yet
  unsigned long long device_ = 0, inode_ = 0;
};

}  // namespace palinform
