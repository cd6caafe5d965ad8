/** What a browser keeps for us: the session, and a sign that it is known. */
import type { Context } from 'koa';

export const sessionCookie = 'bibliona_session';
const deviceCookie = 'bibliona_device';
const deviceDays = 180;

export class Cookies {
  constructor(
    /** The cookies travel by TLS alone. */
    private readonly secure: boolean,
    /** For how long a session can last at most, in milliseconds. */
    private readonly longest: number,
  ) {}

  session(context: Context): string | undefined {
    return context.cookies.get(sessionCookie);
  }
  device(context: Context): string | undefined {
    return context.cookies.get(deviceCookie);
  }

  keepSession(context: Context, token: string): void {
    context.cookies.set(sessionCookie, token, { ...this.options, maxAge: this.longest });
  }
  keepDevice(context: Context, device: string): void {
    context.cookies.set(deviceCookie, device, { ...this.options, maxAge: deviceDays * 86_400_000 });
  }
  dropSession(context: Context): void {
    context.cookies.set(sessionCookie, null, { overwrite: true });
  }

  private get options() {
    return { httpOnly: true, sameSite: 'lax', secure: this.secure, overwrite: true } as const;
  }
}
