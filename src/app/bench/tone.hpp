#pragma once
/// The bench's bell.

namespace palinform::app {

/// A short tone where there is a device to play it; the toolkit's own beep where there is none. Never waits.
void ring_bell();

}  // namespace palinform::app
