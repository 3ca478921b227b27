#include "mix/colour_view.hpp"

#include <algorithm>
#include <QBuffer>
#include <QDate>
#include <QDateTime>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QImageReader>
#include <QPainter>
#include <QVBoxLayout>

#include "base/text.hpp"
#include "shell/desk.hpp"
#include "theme/theme.hpp"

namespace palinform::app {

RecipePicture::RecipePicture(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setMinimumHeight(220);
  setAccessibleName(QStringLiteral("The recipe and its trials"));
}
void RecipePicture::show_recipe(std::optional<ColourRecipe> recipe) {
  recipe_ = std::move(recipe);
  update();
}

void RecipePicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (!recipe_) {
    p.setPen(pal().quiet);
    p.setFont(type_face(14));
    p.drawText(rect(), Qt::AlignCenter,
               QStringLiteral("No colour yet. Name one, choose a pigment and its share: it then scales to any batch."));
    return;
  }
  const auto mix = desk_.plan().fresh(results::mix);
  const PourMix* cast = nullptr;
  if (mix)
    for (const PourMix& m : mix->pours)
      if (m.is_resin) cast = &m;
  const double share = recipe_->share();
  const double batch = cast && share < 1 ? (cast->weighing.total_g + cast->adds_g) / (1 - share) : 0;
  const qreal left = 220, wide = width() - left - 170;
  qreal y = 8;
  for (const RecipeTint& t : recipe_->tints) {
    const Material* m = desk_.shop().bottle(t.material_id);
    const double limit = m ? m->figure("share_most_pct").value_or(0) / 100 : 0;  // 0: no sheet states one
    const double top = std::max(limit * 1.2, t.share * 1.3);
    p.setFont(type_face(14, 600));
    p.setPen(pal().ink);
    p.drawText(QRectF(4, y, left - 12, 26), Qt::AlignVCenter, qs(t.name));
    p.setPen(QPen(pal().rule, 1.4));
    p.drawLine(QPointF(left, y + 13), QPointF(left + wide, y + 13));
    const bool over = limit > 0 && t.share > limit + 1e-12;
    fill_pattern(p, QRectF(left, y + 5, wide * t.share / top, 16), over ? pal().stop : pal().act,
                 over ? Qt::BDiagPattern : Qt::NoBrush);
    if (limit > 0) {
      const qreal at = left + wide * limit / top;
      p.setPen(QPen(pal().stop, 2));
      p.drawLine(QPointF(at, y + 1), QPointF(at, y + 25));
    }
    p.setPen(pal().ink);
    p.drawText(QRectF(left + wide + 10, y, 156, 26), Qt::AlignVCenter,
               QStringLiteral("%1 %").arg(qs(shortest(100 * t.share, 3))) +
                   (batch > 0 ? QStringLiteral(" · ") + desk_.units().mass_text(t.share * batch, 2) : QString()));
    y += 30;
  }
  p.setFont(type_face(12));
  p.setPen(pal().quiet);
  p.drawText(QRectF(left, y, width() - left, 18), Qt::AlignVCenter,
             batch > 0 ? QStringLiteral("share of all in the cup · grams for this batch of %1 · red: the sheet's limit")
                             .arg(desk_.units().mass_text(batch, 0))
                       : QStringLiteral("share of all in the cup · red: the sheet's limit"));
  y += 30;
  p.setFont(type_face(14, 600));
  p.setPen(pal().ink);
  p.drawText(QRectF(4, y, width(), 20), Qt::AlignVCenter,
             recipe_->trials.empty() ? QStringLiteral("No trials yet") : QStringLiteral("Trials, the newest first"));
  y += 24;
  p.setFont(type_face(13));
  for (auto t = recipe_->trials.rbegin(); t != recipe_->trials.rend() && y < height() - 20; ++t) {
    QImage seen;
    if (!t->picture_png.empty()) seen.loadFromData(QByteArray::fromBase64(QByteArray::fromStdString(t->picture_png)));
    const qreal row = seen.isNull() ? 22 : 46, at = seen.isNull() ? 4 : 56;
    if (!seen.isNull()) {
      const QSizeF fit = QSizeF(seen.size()).scaled(QSizeF(46, 40), Qt::KeepAspectRatio);
      p.drawImage(QRectF(QPointF(4, y + 1), fit), seen);
    }
    QString was;
    for (const RecipeTint& x : t->tints)
      was += (was.isEmpty() ? QString() : QStringLiteral(", ")) + qs(x.name) +
             QStringLiteral(" %1 %").arg(qs(shortest(100 * x.share, 3)));
    p.setPen(pal().ink);
    p.drawText(QRectF(at, y, width() - at - 4, row - 2), Qt::AlignVCenter,
               qs(t->on) + (t->casting.empty() ? QString() : QStringLiteral(" · ") + qs(t->casting)) +
                   QStringLiteral(" · ") + was + QStringLiteral(" · ") + qs(t->verdict) +
                   (t->changed.empty() ? QString() : QStringLiteral(" → ") + qs(t->changed)));
    y += row;
  }
}

ColourView::ColourView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  auto* col = new QVBoxLayout(this);
  col->setContentsMargins(0, 0, 0, 0);
  col->setSpacing(8);
  auto* row = new QHBoxLayout;
  row->setSpacing(10);
  recipe_ = new ChoiceField(QStringLiteral("Colour"), QStringLiteral("colour-recipe"), 170);
  row->addWidget(recipe_);
  name_ = add_line(row, QStringLiteral("A new one's name"), QStringLiteral("colour-name"), 130);
  pigment_ = new ChoiceField(QStringLiteral("Pigment"), QStringLiteral("colour-pigment"), 150);
  row->addWidget(pigment_);
  share_ = new FigureField(QStringLiteral("Share, %"), QStringLiteral("colour-share"), 72);
  share_->set_range(0, 50);
  row->addWidget(share_);
  put_ = chip(QStringLiteral("Put it in"), QStringLiteral("colour-put"));
  row->addWidget(put_, 0, Qt::AlignBottom);
  use_ = chip(QStringLiteral("Cast in it"), QStringLiteral("colour-use"), true);
  row->addWidget(use_, 0, Qt::AlignBottom);
  row->addStretch(1);
  col->addLayout(row);
  picture_ = new RecipePicture(desk_, this);
  col->addWidget(picture_, 1);
  auto* trial = new QHBoxLayout;
  trial->setSpacing(10);
  same_ = new ChoiceField(QStringLiteral("Cast the same as"), QStringLiteral("colour-same"), 140);
  trial->addWidget(same_);
  verdict_ = add_line(trial, QStringLiteral("How the last trial looked"), QStringLiteral("colour-verdict"), 0);
  picture_of_ = chip(QStringLiteral("Its picture…"), QStringLiteral("colour-picture"));
  trial->addWidget(picture_of_, 0, Qt::AlignBottom);
  trial_ = chip(QStringLiteral("Keep the trial"), QStringLiteral("colour-trial"));
  trial->addWidget(trial_, 0, Qt::AlignBottom);
  col->addLayout(trial);
  auto* stirred = new QHBoxLayout;
  stirred->setSpacing(10);
  addition_ = new ChoiceField(QStringLiteral("Stirred in"), QStringLiteral("add-material"), 220);
  stirred->addWidget(addition_);
  into_ = new ChoiceField(QStringLiteral("Into"), QStringLiteral("add-into"), 128);
  into_->set_items({{"resin", QStringLiteral("the casting")}, {"rubber", QStringLiteral("the rubber")}});
  into_->show_current("resin");
  stirred->addWidget(into_);
  add_share_ = new FigureField(QStringLiteral("Share, %"), QStringLiteral("add-share"), 72);
  add_share_->set_range(0, 90);
  stirred->addWidget(add_share_);
  add_ = chip(QStringLiteral("Stir it in"), QStringLiteral("add-put"));
  stirred->addWidget(add_, 0, Qt::AlignBottom);
  added_ = remark();
  added_->setObjectName(QStringLiteral("added"));
  added_->setWordWrap(true);
  stirred->addWidget(added_, 1);
  col->addLayout(stirred);
  auto* rest = new QHBoxLayout;
  rest->setSpacing(10);
  left_ = new FigureField(QStringLiteral("Left in the cup"), QStringLiteral("left-over"), 110);
  left_->set_range(0, 10'000);
  rest->addWidget(left_);
  rest_ = remark();
  rest->addWidget(rest_, 1);
  pour_rest_ = chip(QStringLiteral("Pour it there"), QStringLiteral("left-over-pour"));
  rest->addWidget(pour_rest_, 0, Qt::AlignBottom);
  col->addLayout(rest);

  connect(recipe_, &ChoiceField::chosen, this, [this](const std::string& id) {
    shown_ = id;
    refresh();
  });
  connect(put_, &QPushButton::clicked, this, [this] {
    const std::string pigment = pigment_->box()->currentData().toString().toStdString();
    const Material* m = desk_.shop().bottle(pigment);
    const auto pct = parse_number(share_->edit()->text().toStdString());
    if (!m) return;
    if (!pct || *pct < 0) return mark_fault(share_->edit(), QStringLiteral("How much of it, in per cent of all?"));
    ColourRecipe r;
    const QString named = name_->text().trimmed();
    if (!named.isEmpty()) {
      r.id = new_id();
      r.name = named.toStdString();
    } else if (const ColourRecipe* c = chosen()) {
      r = *c;
    } else {
      return mark_fault(name_, QStringLiteral("Name the colour first."));
    }
    std::erase_if(r.tints, [&](const RecipeTint& t) { return t.material_id == pigment; });
    if (*pct > 0) r.tints.push_back({pigment, m->name, *pct / 100});
    keep(r);
  });
  connect(use_, &QPushButton::clicked, this, [this](bool on) {
    Job next = desk_.job();
    const ColourRecipe* c = chosen();
    next.mix.colour = on && c ? std::optional(*c) : std::nullopt;
    desk_.edit(next, QStringLiteral("colour"));
  });
  connect(trial_, &QPushButton::clicked, this, [this] {
    const ColourRecipe* c = chosen();
    if (!c) return;
    if (verdict_->text().trimmed().isEmpty())
      return mark_fault(verdict_, QStringLiteral("Too dark, too pale, right: in words."));
    ColourTrial t;
    t.on = QDate::currentDate().toString(Qt::ISODate).toStdString();
    if (!desk_.job().check.castings.empty())
      t.casting = desk_.job().name + ", casting " + std::to_string(desk_.job().check.castings.back().number);
    t.verdict = verdict_->text().trimmed().toStdString();
    t.picture_png = std::exchange(trial_picture_, {});
    verdict_->clear();
    keep(after_trial(*c, std::move(t), c->tints));
  });
  connect(picture_of_, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, QStringLiteral("Picture of the trial"), {},
                                                      QStringLiteral("Pictures (*.png *.jpg *.jpeg)"));
    if (!path.isEmpty()) take_picture(path);
  });
  connect(same_, &ChoiceField::chosen, this,
          [this](const std::string& number) { cast_the_same(QString::fromStdString(number).toInt()); });
  connect(add_, &QPushButton::clicked, this, [this] { stir_in(); });
  connect(left_, &FigureField::entered, this, [this](double) { fill_left_over(); });
  connect(pour_rest_, &QPushButton::clicked, this, [this] {
    for (const size_t i : rest_moulds_) {
      const StandingMould& m = moulds_[i];
      const auto resin = desk_.resin();
      PourRecord p;
      p.job_id = desk_.job().id;
      p.at = now_text();
      p.what = "Left-over into " + m.name;
      p.material_id = desk_.job().mix.resin_id;
      p.mass_g = m.volume_ml * (resin ? resin->density_g_cm3 : 1.1);
      if (const auto ok = desk_.workshop().book_pour(p, false); !ok) {
        emit desk_.message(qs(ok.error().text()), true);
        return;
      }
    }
    emit desk_.message(QStringLiteral("Booked: ") + rest_->text(), false);
    left_->edit()->clear();
    desk_.books_changed();
    fill_left_over();
  });
}

const ColourRecipe* ColourView::chosen() const {
  for (const ColourRecipe& r : recipes_)
    if (r.id == shown_) return &r;
  return nullptr;
}

void ColourView::keep(const ColourRecipe& recipe) {
  if (const auto ok = desk_.workshop().keep_recipe(recipe); !ok) {
    emit desk_.message(qs(ok.error().text()), true);
    return;
  }
  shown_ = recipe.id;
  name_->clear();
  // The job that casts in it takes it as it is now.
  if (desk_.job().mix.colour && desk_.job().mix.colour->id == recipe.id) {
    Job next = desk_.job();
    next.mix.colour = recipe;
    desk_.edit(next, QStringLiteral("colour"));
  }
  refresh();
}

bool ColourView::take_picture(const QString& path) {
  QImageReader reader(path);
  reader.setAutoTransform(true);
  const QImage image = reader.read();
  if (image.isNull()) {
    emit desk_.message(
        QStringLiteral("%1 is no picture that can be read: take a PNG or JPEG file.").arg(QFileInfo(path).fileName()),
        true);
    return false;
  }
  QByteArray png;
  QBuffer buffer(&png);
  buffer.open(QIODevice::WriteOnly);
  image.scaled(128, 128, Qt::KeepAspectRatio, Qt::SmoothTransformation).save(&buffer, "PNG");
  trial_picture_ = png.toBase64().toStdString();
  refresh();
  return true;
}

void ColourView::cast_the_same(int number) {
  for (const Casting& c : desk_.job().check.castings) {
    if (c.number != number) continue;
    ColourRecipe r;
    // The same casting again is the same recipe again.
    r.id = "as-" + desk_.job().id + "-" + std::to_string(number);
    r.name = "As casting " + std::to_string(number) + " of " + desk_.job().name;
    for (const RecipeTint& t : c.colour)
      if (const Material* m = desk_.shop().bottle(t.material_id); !m || m->kind == MaterialKind::pigment)
        r.tints.push_back(t);
    if (const auto ok = desk_.workshop().keep_recipe(r); !ok) {
      emit desk_.message(qs(ok.error().text()), true);
      return;
    }
    shown_ = r.id;
    Job next = desk_.job();
    next.mix.colour = r;
    desk_.edit(next, QStringLiteral("colour"));
    refresh();
    return;
  }
}

void ColourView::stir_in() {
  const std::string id = addition_->box()->currentData().toString().toStdString();
  const Material* m = desk_.shop().bottle(id);
  const auto pct = parse_number(add_share_->edit()->text().toStdString());
  if (!m) return;
  if (!pct || *pct < 0) return mark_fault(add_share_->edit(), QStringLiteral("How much of it, in per cent of all?"));
  Addition a;
  a.material_id = id, a.name = m->name, a.share = *pct / 100;
  a.kind = named<Additive>(name_of(m->kind)).value_or(Additive::filler);
  a.density_g_cm3 = m->figure("density_g_cm3").value_or(1);
  a.most_share = m->figure("share_most_pct").value_or(0) / 100;
  Job next = desk_.job();
  auto& list =
      into_->box()->currentData().toString() == QLatin1String("rubber") ? next.mix.rubber_adds : next.mix.resin_adds;
  std::erase_if(list, [&](const Addition& x) { return x.material_id == id; });
  if (a.share > 0) list.push_back(std::move(a));
  if (desk_.edit(next, QStringLiteral("what is stirred in"))) refresh();
}

void ColourView::show_added() {
  std::vector<std::pair<std::string, QString>> items;
  for (const Material& m : desk_.shop().bottles)
    if (!m.retired && named<Additive>(name_of(m.kind))) items.emplace_back(m.id, qs(m.name));
  if (items.empty()) items.emplace_back("", QStringLiteral("none on the shelf"));
  addition_->set_items(items);
  QString words;
  const MixSetup& mix = desk_.job().mix;
  const auto say = [&](const QString& what, const std::vector<Addition>& list, const auto& material) {
    if (list.empty()) return;
    words += (words.isEmpty() ? QString() : QStringLiteral(" · ")) + what;
    for (const Addition& a : list) words += QStringLiteral(" %1 %2 %").arg(qs(a.name), qs(shortest(100 * a.share, 2)));
    if (material)
      words += QStringLiteral(": %1 g/cm³, %2 mPa·s")
                   .arg(qs(fixed(material->density_g_cm3, 2)), qs(grouped(material->viscosity_mpa_s)));
  };
  say(QStringLiteral("In the casting"), mix.resin_adds, desk_.resin());
  say(QStringLiteral("In the rubber"), mix.rubber_adds, desk_.rubber());
  added_->setText(words.isEmpty() ? QStringLiteral("Nothing is stirred in. Filler makes it heavier, thicker, cooler "
                                                   "and shrink less; thickener keeps coats from running.")
                                  : words);
}

void ColourView::fill_left_over() {
  rest_moulds_.clear();
  const auto moulds = desk_.workshop().standing_moulds();
  moulds_ = moulds ? *moulds : std::vector<StandingMould>{};
  const auto typed = parse_number(left_->edit()->text().toStdString());
  const auto resin = desk_.resin();
  const Material* m = desk_.shop().bottle(desk_.job().mix.resin_id);
  if (!typed || !resin || !m || moulds_.empty()) {
    rest_->setText(moulds_.empty()
                       ? QStringLiteral("No open mould stands ready for left-overs.")
                       : QStringLiteral("%1 open moulds stand ready. Weigh what is left: it goes where it is "
                                        "worth most.")
                             .arg(moulds_.size()));
    pour_rest_->setEnabled(false);
    return;
  }
  const auto f = fill_with_left_over(moulds_, name_of(m->kind), desk_.units().grams(*typed), resin->density_g_cm3);
  if (!f) {
    rest_->setText(qs(f.error().text()));
    pour_rest_->setEnabled(false);
    return;
  }
  rest_moulds_ = f->moulds;
  QString words;
  for (const size_t i : f->moulds)
    words += (words.isEmpty() ? QString() : QStringLiteral(", ")) + qs(moulds_[i].name) +
             (moulds_[i].place.empty() ? QString() : QStringLiteral(" (") + qs(moulds_[i].place) + QLatin1Char(')'));
  rest_->setText(words.isEmpty() ? QStringLiteral("It fills none of them whole.")
                                 : words + QStringLiteral(": %1 used, %2 over")
                                               .arg(desk_.units().mass_text(f->used_g, 0),
                                                    desk_.units().mass_text(f->wasted_g, 0)));
  pour_rest_->setEnabled(!words.isEmpty() && !desk_.read_only());
}

void ColourView::refresh() {
  const auto recipes = desk_.workshop().recipes();
  recipes_ = recipes ? *recipes : std::vector<ColourRecipe>{};
  if (!chosen())
    shown_ = desk_.job().mix.colour ? desk_.job().mix.colour->id : recipes_.empty() ? "" : recipes_.front().id;
  std::vector<std::pair<std::string, QString>> items;
  for (const ColourRecipe& r : recipes_) items.emplace_back(r.id, qs(r.name));
  if (items.empty()) items.emplace_back("", QStringLiteral("none yet"));
  recipe_->set_items(items);
  recipe_->show_current(shown_);
  std::vector<std::pair<std::string, QString>> pigments;
  for (const Material& m : desk_.shop().bottles)
    if (m.kind == MaterialKind::pigment && !m.retired) pigments.emplace_back(m.id, qs(m.name));
  if (pigments.empty()) pigments.emplace_back("", QStringLiteral("no pigment on the shelf"));
  pigment_->set_items(pigments);
  const ColourRecipe* c = chosen();
  const auto& used = desk_.job().mix.colour;
  use_->setChecked(c && used && used->id == c->id);
  use_->setEnabled(c && !desk_.read_only());
  trial_->setEnabled(c && !desk_.read_only());
  put_->setEnabled(!desk_.read_only());
  picture_->show_recipe(c ? std::optional(*c) : std::nullopt);
  picture_of_->setText(trial_picture_.empty() ? QStringLiteral("Its picture…") : QStringLiteral("Picture taken"));
  picture_of_->setEnabled(c && !desk_.read_only());
  std::vector<std::pair<std::string, QString>> castings{{"", QStringLiteral("casting …")}};
  for (const Casting& k : desk_.job().check.castings)
    if (!k.colour.empty()) castings.emplace_back(std::to_string(k.number), QStringLiteral("casting %1").arg(k.number));
  same_->setVisible(castings.size() > 1);
  same_->set_items(castings);
  same_->show_current(used && used->id.starts_with("as-" + desk_.job().id + "-")
                          ? used->id.substr(used->id.rfind('-') + 1)
                          : std::string());
  show_added();
  fill_left_over();
}

}  // namespace palinform::app
