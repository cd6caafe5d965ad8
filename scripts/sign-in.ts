import type { Page } from 'playwright-core';

/** Signs a browser in through the form, and waits until it has. */
export async function signIn(page: Page, email: string, password: string): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Mail address').fill(email);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('button', { name: /theme and sign out/u }).waitFor();
}
