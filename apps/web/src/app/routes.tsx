// The index of screens: which address shows which page.
import { createBrowserRouter } from 'react-router';
import { Shell } from './Shell';
import { Lost } from './Lost';

export const router = createBrowserRouter([
  {
    path: '/',
    element: <Shell />,
    hydrateFallbackElement: <main aria-busy="true" />,
    errorElement: <Lost />,
    children: [
      { index: true, lazy: async () => ({ Component: (await import('./DeskPage')).DeskPage }) },
      {
        path: 'contacts',
        lazy: async () => ({ Component: (await import('../contacts/ContactsPage')).ContactsPage }),
      },
      {
        path: 'contacts/:id',
        lazy: async () => ({ Component: (await import('../contacts/PersonPage')).PersonPage }),
      },
      {
        path: 'segments',
        lazy: async () => ({ Component: (await import('../segments/SegmentsPage')).SegmentsPage }),
      },
      {
        path: 'segments/:id',
        lazy: async () => ({ Component: (await import('../segments/SegmentPage')).SegmentPage }),
      },
      {
        path: 'letters',
        lazy: async () => ({ Component: (await import('../letters/LettersPage')).LettersPage }),
      },
      {
        path: 'letters/:id',
        lazy: async () => ({ Component: (await import('../letters/LetterPage')).LetterPage }),
      },
      {
        path: 'campaigns',
        lazy: async () => ({
          Component: (await import('../campaigns/CampaignsPage')).CampaignsPage,
        }),
      },
      {
        path: 'campaigns/:id',
        lazy: async () => ({ Component: (await import('../campaigns/CampaignPage')).CampaignPage }),
      },
      {
        path: 'results',
        lazy: async () => ({ Component: (await import('../results/ResultsPage')).ResultsPage }),
      },
      {
        path: 'results/returned',
        lazy: async () => ({ Component: (await import('../results/ReturnedPage')).ReturnedPage }),
      },
      {
        path: 'results/:id',
        lazy: async () => ({ Component: (await import('../results/ResultPage')).ResultPage }),
      },
      {
        path: 'intake',
        lazy: async () => ({ Component: (await import('../intake/IntakePage')).IntakePage }),
      },
      {
        path: 'intake/:id',
        lazy: async () => ({ Component: (await import('../intake/ImportPage')).ImportPage }),
      },
      {
        path: 'activity',
        lazy: async () => ({ Component: (await import('../contacts/ActivityPage')).ActivityPage }),
      },
      {
        path: 'settings',
        lazy: async () => ({ Component: (await import('../office/SettingsPage')).SettingsPage }),
      },
      { path: '*', element: <Lost /> },
    ],
  },
]);
