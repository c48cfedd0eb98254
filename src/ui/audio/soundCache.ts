/** Audio in the page. */
export interface Held {
  /** Why it cannot be had, in a sentence. */
  readonly fault: string | null;
  /** Memory that it takes. */
  readonly bytes: number;
  /** All of it is there: it is worth keeping. */
  readonly isWhole: boolean;
  /** Nobody needs it any more. */
  close(): void;
}

/**
 * Audio that is in the page: what is in use, however large, and of the rest what was used last, within a bound in bytes.
 * Who takes something gives it back.
 */
export class SoundCache<Sound extends Held> {
  private readonly held = new Map<string, { sound: Sound; users: number }>();

  constructor(private readonly mostBytes: number) {}

  /** What goes by this name; opened, unless it is in the page already. */
  protected hold(name: string, open: () => Sound): Sound {
    const before = this.held.get(name);
    if (before && before.sound.fault === null) {
      before.users++;
      return before.sound;
    }
    const sound = open();
    this.held.set(name, { sound, users: 1 });
    return sound;
  }

  /** One user less; what nobody waits for any more is not made to its end. */
  protected letGo(name: string, sound: Sound) {
    const one = this.held.get(name);
    if (one?.sound !== sound) return;
    one.users--;
    // Used last: it stands behind all others.
    this.held.delete(name);
    if (one.users > 0 || sound.isWhole) this.held.set(name, one);
    else sound.close();
    this.makeRoom();
  }

  /** Memory of all that is held, bytes. */
  get bytes(): number {
    return [...this.held.values()].reduce((sum, { sound }) => sum + sound.bytes, 0);
  }

  private makeRoom() {
    let { bytes } = this;
    for (const [name, { sound, users }] of [...this.held]) {
      if (bytes <= this.mostBytes) return;
      if (users > 0) continue;
      bytes -= sound.bytes;
      this.held.delete(name);
      sound.close();
    }
  }
}
