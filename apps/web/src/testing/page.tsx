// A screen in what surrounds it in the application: router, query cache, messages.
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, type RenderResult } from '@testing-library/react';
import { SnackbarProvider } from 'notistack';
import type { ReactElement } from 'react';
import { MemoryRouter, Route, Routes, useLocation } from 'react-router';

function Where() {
  return <output aria-label="Address">{useLocation().pathname}</output>;
}

/**
 * Shows a screen at an address; the address stands in an output of that name.
 * @param pattern route of the screen, such as "/jobs/:jobId/merge"
 */
export function showPage(screen: ReactElement, pattern = '/', address = pattern): RenderResult {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false }, mutations: { retry: false } } });
  return render(
    <QueryClientProvider client={client}>
      <SnackbarProvider>
        <MemoryRouter initialEntries={[address]}>
          <Routes>
            <Route path={pattern} element={screen} />
            <Route path="*" element={<p>elsewhere</p>} />
          </Routes>
          <Where />
        </MemoryRouter>
      </SnackbarProvider>
    </QueryClientProvider>,
  );
}
