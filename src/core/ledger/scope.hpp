#pragma once
// For this room: a transaction, or a part of the one that is open already.
#include <SQLiteCpp/SQLiteCpp.h>

#include <optional>

#include "ledger/workshop.hpp"

namespace palinform {

class Workshop::Scope {
 public:
  explicit Scope(Workshop& w) {
    if (!w.together_) own_.emplace(*w.db_);
  }
  void commit() {
    if (own_) own_->commit();
  }

 private:
  std::optional<SQLite::Transaction> own_;
};

}  // namespace palinform
