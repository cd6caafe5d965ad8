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
import { ApiRefusal, whenSignedOut } from './state/api.js';
import { SignInAgain } from './people/SignInAgain.js';
import { keys } from './state/keys.js';
import { useEndedSession } from './state/session.js';
import { styleNonce } from './ui/nonce.js';
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

const styles = createCache({ key: 'b', nonce: styleNonce, prepend: true });

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
