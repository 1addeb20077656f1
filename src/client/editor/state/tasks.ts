/** Something that is being done for this page. */
export interface Task {
  id: string;
  name: string;
  /** How much of `total` is done; a total of 0 is not known yet, −1 means that it is being stopped. */
  done: number;
  total: number;
}

export interface TasksState {
  task: Task | null;
}

export const firstTasks: TasksState = { task: null };
