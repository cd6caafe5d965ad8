/**
 * A share for everyone: how many requests of one kind are worked on at once, in all, for one app and for one person. The
 * others wait for their turn, and are told to come back when too many wait or it takes too long.
 */
import { Refusal } from './refusal.js';

export interface ShareLimits {
  /** Worked on at once. */
  readonly inAll: number;
  readonly perApp: number;
  readonly perPerson: number;
  /** For one app at once. */
  readonly mostWaiting: number;
  /** In milliseconds. */
  readonly patience: number;
}

interface Asking {
  readonly app: string;
  readonly person: string;
}
interface Waiting extends Asking {
  readonly begin: () => void;
}

export class Share {
  private readonly atWork: Asking[] = [];
  private readonly waiting: Waiting[] = [];

  constructor(private readonly limits: ShareLimits) {}

  /** Waits for a turn; what it gives ends the turn. @throws Refusal unavailable */
  async enter(asking: Asking): Promise<() => void> {
    if (!this.hasRoom(asking)) await this.turn(asking);
    this.atWork.push(asking);
    let isOver = false;
    return () => {
      if (isOver) return;
      isOver = true;
      this.atWork.splice(this.atWork.indexOf(asking), 1);
      this.next();
    };
  }

  private hasRoom({ app, person }: Asking): boolean {
    const { inAll, perApp, perPerson } = this.limits;
    const count = (is: (asking: Asking) => boolean): number => this.atWork.filter(is).length;
    return this.atWork.length < inAll && count((asking) => asking.app === app) < perApp && count((asking) => asking.person === person) < perPerson;
  }

  private turn(asking: Asking): Promise<void> {
    if (this.waiting.filter((waiting) => waiting.app === asking.app).length >= this.limits.mostWaiting)
      throw new Refusal('unavailable', 'Too many requests are waiting. Try again in a moment.');
    return new Promise((resolve, reject) => {
      const late = setTimeout(() => {
        this.waiting.splice(this.waiting.indexOf(waiting), 1);
        reject(new Refusal('unavailable', 'The server is busy with other requests. Try again in a moment.'));
      }, this.limits.patience);
      const begin = (): void => {
        clearTimeout(late);
        resolve();
      };
      const waiting: Waiting = { ...asking, begin };
      this.waiting.push(waiting);
    });
  }

  /** Begins those who can begin, in the order in which they came. */
  private next(): void {
    const index = this.waiting.findIndex((waiting) => this.hasRoom(waiting));
    const [first] = index < 0 ? [] : this.waiting.splice(index, 1);
    first?.begin();
  }
}
