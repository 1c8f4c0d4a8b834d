// A part of the interface as it stands in the application, with a server that answers what a test says.
import { jest } from '@jest/globals';
import { MantineProvider } from '@mantine/core';
import { Notifications, notifications } from '@mantine/notifications';
import type { Role } from '@palabra/core/office';
import { configureStore } from '@reduxjs/toolkit';
import { cleanup, render } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import type { ReactElement } from 'react';
import { Provider } from 'react-redux';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { server } from '../api/server';
import { OfficeContext } from '../office/OfficeContext';
import { theme, variables } from '../ui/theme';
import { office } from './office';

export { office };

export interface Asked {
  readonly method: string;
  /** With its query, without `/api`. */
  readonly path: string;
  readonly body: unknown;
}

/** A status other than 200, with a body. */
export class Answer {
  constructor(
    readonly status: number,
    readonly body: unknown,
  ) {}
}

type Answers = (asked: Asked) => unknown;

/** What jsdom lacks. */
function furnish(): void {
  Object.assign(window, {
    matchMedia: (media: string) => ({
      matches: false,
      media,
      addEventListener: () => undefined,
      removeEventListener: () => undefined,
      addListener: () => undefined,
      removeListener: () => undefined,
    }),
    ResizeObserver: class {
      observe(): void {}
      unobserve(): void {}
      disconnect(): void {}
    },
    IntersectionObserver: class {
      observe(): void {}
      unobserve(): void {}
      disconnect(): void {}
    },
  });
  Element.prototype.scrollIntoView = () => undefined;
  // Nothing is laid out: a text editor that wants to see its cursor finds it nowhere.
  Range.prototype.getClientRects = () => document.createElement('i').getClientRects();
  Range.prototype.getBoundingClientRect = () => document.createElement('i').getBoundingClientRect();
  const fonts = { addEventListener: () => undefined, removeEventListener: () => undefined };
  if (!('fonts' in document)) Object.defineProperty(document, 'fonts', { value: fonts });
}

export interface Shown {
  readonly asked: Asked[];
  readonly user: ReturnType<typeof userEvent.setup>;
  readonly path: () => string;
}

/** `answers` gives the body for a request, or an `Answer`; what it leaves undefined is answered with 404. */
export function show(
  element: ReactElement,
  {
    answers = () => undefined,
    role = 'coordinator',
    path = '/',
    route = '*',
  }: {
    readonly answers?: Answers;
    readonly role?: Role;
    readonly path?: string;
    readonly route?: string;
  } = {},
): Shown {
  furnish();
  const asked: Asked[] = [];
  globalThis.fetch = jest.fn(async (input: unknown) => {
    const request = input as Request;
    const url = new URL(request.url, 'http://localhost');
    const isJson = request.headers.get('content-type')?.includes('json') === true;
    const text = isJson ? await request.text() : '';
    const one = {
      method: request.method,
      path: url.pathname.replace(/^\/api/, '') + url.search,
      body: text === '' ? undefined : (JSON.parse(text) as unknown),
    };
    asked.push(one);
    const said = answers(one);
    const { status, body } =
      said instanceof Answer
        ? said
        : said === undefined
          ? new Answer(404, { detail: `nothing answers ${one.method} ${one.path}` })
          : new Answer(200, said);
    return new Response(JSON.stringify(body), {
      status,
      headers: { 'content-type': 'application/json' },
    });
  });
  const store = configureStore({
    reducer: { [server.reducerPath]: server.reducer },
    middleware: (defaults) => defaults().concat(server.middleware),
  });
  const user = { id: 1, name: 'Ines', address: 'ines@example.com', role, isNew: false };
  const router = createMemoryRouter([{ path: route, element }], { initialEntries: [path] });
  render(
    <Provider store={store}>
      <MantineProvider theme={theme} cssVariablesResolver={variables} env="test">
        <OfficeContext.Provider value={{ user, office }}>
          <RouterProvider router={router} />
          <Notifications />
        </OfficeContext.Provider>
      </MantineProvider>
    </Provider>,
  );
  return {
    asked,
    user: userEvent.setup(),
    path: () => router.state.location.pathname + router.state.location.search,
  };
}

export function clear(): void {
  cleanup();
  notifications.clean();
  localStorage.clear();
  sessionStorage.clear();
}
