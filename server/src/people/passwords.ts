import { hash, verify } from '@node-rs/argon2';

// OWASP, Password Storage Cheat Sheet: argon2id with 19 MiB, 2 passes, 1 lane. The algorithm is the package's default.
const cost = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password, cost);

// Verified when there is no such person, so that the answer takes as long as for a wrong password.
const nobody = hashPassword('no one has this password');

export async function passwordHolds(stored: string | null, password: string): Promise<boolean> {
  const holds = await verify(stored ?? (await nobody), password);
  return holds && stored !== null;
}
