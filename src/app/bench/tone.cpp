#include "bench/tone.hpp"

#include <QApplication>
#include <QAudioDevice>
#include <QMediaDevices>
#include <QSoundEffect>

static void load_tone() { Q_INIT_RESOURCE(tone); }

namespace palinform::app {

void ring_bell() {
  // Asked for at the first ring only: looking for devices takes a while, and most sessions never ring.
  static QSoundEffect* const tone = [] {
    load_tone();
    if (QMediaDevices::defaultAudioOutput().isNull()) return static_cast<QSoundEffect*>(nullptr);
    auto* t = new QSoundEffect(qApp);
    t->setSource(QUrl(QStringLiteral("qrc:/bench/tone.wav")));
    t->setVolume(0.9);
    return t;
  }();
  if (tone)
    tone->play();
  else
    QApplication::beep();
}

}  // namespace palinform::app
