export type { Column, PagedRows, Selection } from './column';
export { Table } from './Table';
