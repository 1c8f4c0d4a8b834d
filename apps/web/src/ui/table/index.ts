export type { CellEdit, Column, PagedRows, Selection, Sorting, TableArrangement } from './column';
export { Table } from './Table';
