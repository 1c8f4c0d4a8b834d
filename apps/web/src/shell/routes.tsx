// The index of screens: which address shows which page.
import { createBrowserRouter } from 'react-router';
import { Lost } from '../ui/states';
import { Shell } from './Shell';

export const router = createBrowserRouter([
  {
    // Before anybody is signed in.
    path: '/enter/:token',
    errorElement: <Lost />,
    hydrateFallbackElement: <main aria-busy="true" />,
    lazy: async () => ({ Component: (await import('../office/EntryPage')).EntryPage }),
  },
  {
    path: '/',
    element: <Shell />,
    hydrateFallbackElement: <main aria-busy="true" />,
    errorElement: <Lost />,
    children: [
      {
        index: true,
        lazy: async () => ({ Component: (await import('../desk/DeskPage')).DeskPage }),
      },
      {
        path: 'contacts',
        lazy: async () => ({ Component: (await import('../desk/ContactsPage')).ContactsPage }),
      },
      {
        path: 'contacts/tags',
        lazy: async () => ({ Component: (await import('../contacts/tags/TagsPage')).TagsPage }),
      },
      {
        path: 'contacts/bin',
        lazy: async () => ({ Component: (await import('../contacts/BinPage')).BinPage }),
      },
      {
        path: 'contacts/:id',
        lazy: async () => ({ Component: (await import('../desk/PersonPage')).PersonPage }),
      },
      {
        path: 'tasks',
        lazy: async () => ({ Component: (await import('../notes/TasksPage')).TasksPage }),
      },
      {
        path: 'segments',
        lazy: async () => ({ Component: (await import('../segments/SegmentsPage')).SegmentsPage }),
      },
      {
        path: 'segments/compare',
        lazy: async () => ({ Component: (await import('../segments/ComparePage')).ComparePage }),
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
        lazy: async () => ({ Component: (await import('../desk/CampaignPage')).CampaignPage }),
      },
      {
        path: 'results',
        lazy: async () => ({ Component: (await import('../results/ResultsPage')).ResultsPage }),
      },
      {
        path: 'results/returned',
        lazy: async () => ({ Component: (await import('../delivery/ReturnedPage')).ReturnedPage }),
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
        lazy: async () => ({ Component: (await import('../desk/SettingsPage')).SettingsPage }),
      },
      {
        path: 'settings/rating',
        lazy: async () => ({
          Component: (await import('../contacts/ratings/RatingPage')).RatingPage,
        }),
      },
      {
        path: 'settings/fields',
        lazy: async () => ({
          Component: (await import('../contacts/fields/FieldsPage')).FieldsPage,
        }),
      },
      { path: '*', element: <Lost /> },
    ],
  },
]);
