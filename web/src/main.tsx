import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode, Suspense } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { theme } from './look/theme.js';
import { router } from './routes.js';
import { addressed, screens } from './screens.js';
import { ApiRefusal, whenSignedOut } from './state/api.js';
import { SignInAgain } from './people/SignInAgain.js';
import { appQuery } from './state/app.js';
import { earlyAnswers } from './state/early.js';
import { keys } from './state/keys.js';
import { sessionQuery, useEndedSession } from './state/session.js';
import { bring } from './ui/brought.js';
import { styleNonce } from './ui/nonce.js';
import './ui/pressing.js';
import { Waiting } from './ui/Waiting.js';

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      // A refusal is an answer; only a server that cannot be reached is asked again.
      retry: (times, error) => !(error instanceof ApiRefusal) && times < 2,
    },
  },
});
whenSignedOut(() => {
  const isKnown = client.getQueryData<{ person: unknown }>(keys.me)?.person != null;
  return isKnown ? useEndedSession.getState().wait() : Promise.resolve(false);
});

// The browsers that read our scripts need none of the prefixes that would be written else; `base.css` has the one that some still do.
const styles = createCache({ key: 'b', nonce: styleNonce, prepend: true, stylisPlugins: [] });

/** In milliseconds: after so long the page shows that it waits. */
const patience = 1000;

/**
 * Waits for what the address shows: its screens and what they read first, the person and the app, which the first script has asked
 * for. Each part that came later would be a drawing of its own, with what is waited for in between.
 */
async function firstParts(): Promise<void> {
  const address = addressed(window.location.pathname);
  if (address === null) return;
  const parts = [
    earlyAnswers(),
    client.prefetchQuery(sessionQuery),
    client.prefetchQuery(appQuery(address.app)),
    ...address.screens.map((name) => bring(screens[name])),
  ];
  await Promise.race([Promise.allSettled(parts), new Promise((resolve) => setTimeout(resolve, patience))]);
}
await firstParts();

const root = document.getElementById('root');
if (root === null) throw new Error('The page has no root');
createRoot(root).render(
  <StrictMode>
    <CacheProvider value={styles}>
      <ThemeProvider theme={theme} defaultMode="system">
        <CssBaseline />
        <QueryClientProvider client={client}>
          <Suspense fallback={<Waiting />}>
            <RouterProvider router={router} />
            <SignInAgain />
          </Suspense>
        </QueryClientProvider>
      </ThemeProvider>
    </CacheProvider>
  </StrictMode>,
);
