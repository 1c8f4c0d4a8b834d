import type {
  KeptReply,
  NoteChangeRequest,
  NoteReply,
  NoteRequest,
  TaskChangeRequest,
  TaskCounts,
  TaskReply,
  TaskRequest,
  TasksMade,
  TasksPage,
  TasksQuery,
  TasksRequest,
  ToldReply,
} from '@palabra/contract/notes';
import { said, server } from '../api/server';

const both = ['Person', 'Task'] as const;

export const notesApi = server.injectEndpoints({
  endpoints: (build) => ({
    kept: build.query<KeptReply, number>({
      query: (id) => `/people/${id}/kept`,
      providesTags: ['Person', 'Task'],
    }),
    addNote: build.mutation<NoteReply, NoteRequest & { person: number }>({
      query: ({ person, ...body }) => ({ url: `/people/${person}/notes`, method: 'POST', body }),
      invalidatesTags: ['Person'],
    }),
    changeNote: build.mutation<NoteReply, NoteChangeRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/notes/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Person'],
    }),
    removeNote: build.mutation<null, number>({
      query: (id) => ({ url: `/notes/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Person'],
    }),
    restoreNote: build.mutation<null, number>({
      query: (id) => ({ url: `/notes/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Person'],
    }),
    told: build.query<ToldReply[], void>({ query: () => '/notes/told', providesTags: ['Told'] }),
    seeNote: build.mutation<null, number>({
      query: (id) => ({ url: `/notes/${id}/seen`, method: 'POST' }),
      invalidatesTags: ['Told'],
    }),
    tasks: build.infiniteQuery<TasksPage, Omit<TasksQuery, 'after'>, string | undefined>({
      infiniteQueryOptions: {
        initialPageParam: undefined,
        getNextPageParam: ({ after }) => after ?? undefined,
      },
      query: ({ queryArg, pageParam }) => ({
        url: '/tasks',
        params: said({ ...queryArg, after: pageParam }),
      }),
      providesTags: ['Task'],
    }),
    taskCounts: build.query<TaskCounts, 'mine' | 'all'>({
      query: (whose) => `/tasks/counts/${whose}`,
      providesTags: ['Task'],
    }),
    addTask: build.mutation<TaskReply, TaskRequest & { person: number }>({
      query: ({ person, ...body }) => ({ url: `/people/${person}/tasks`, method: 'POST', body }),
      invalidatesTags: both,
    }),
    addTasks: build.mutation<TasksMade, TasksRequest>({
      query: (body) => ({ url: '/tasks/for-each', method: 'POST', body }),
      invalidatesTags: both,
    }),
    dropTasks: build.mutation<{ count: number }, number>({
      query: (batch) => ({ url: `/tasks/batches/${batch}/undo`, method: 'POST' }),
      invalidatesTags: both,
    }),
    changeTask: build.mutation<TaskReply, TaskChangeRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `/tasks/${id}`, method: 'PUT', body }),
      invalidatesTags: both,
    }),
    setTaskDone: build.mutation<TaskReply, { id: number; done: boolean }>({
      query: ({ id, done }) => ({ url: `/tasks/${id}/done`, method: 'POST', body: { done } }),
      invalidatesTags: both,
    }),
    removeTask: build.mutation<null, number>({
      query: (id) => ({ url: `/tasks/${id}`, method: 'DELETE' }),
      invalidatesTags: both,
    }),
    restoreTask: build.mutation<null, number>({
      query: (id) => ({ url: `/tasks/${id}/restore`, method: 'POST' }),
      invalidatesTags: both,
    }),
  }),
});

export const {
  useKeptQuery,
  useAddNoteMutation,
  useChangeNoteMutation,
  useRemoveNoteMutation,
  useRestoreNoteMutation,
  useToldQuery,
  useSeeNoteMutation,
  useTasksInfiniteQuery,
  useTaskCountsQuery,
  useAddTaskMutation,
  useAddTasksMutation,
  useDropTasksMutation,
  useChangeTaskMutation,
  useSetTaskDoneMutation,
  useRemoveTaskMutation,
  useRestoreTaskMutation,
} = notesApi;
