import { useQueryClient } from '@tanstack/react-query';
import { request } from '../../desk/request.ts';
import { countWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { TASKS } from '../links.ts';
import { ItemLook } from './ItemLook.tsx';
import { daysUntil } from './RequestRegister.tsx';
import { TaskTable } from './TaskTable.tsx';
import { useTask, useTasks } from './use-requests.ts';
import css from '../cases.module.css';

/** What one person has to do for what people ask. */
export function TasksSheet() {
  const tasks = useTasks();
  const client = useQueryClient();
  if (tasks.isError && !tasks.data)
    return <Failure error={tasks.error} onRetry={() => void tasks.refetch()} />;
  if (!tasks.data) return <Loading what="your tasks" />;
  const late = tasks.data.filter((t) => daysUntil(t.dueOn) < 0).length;
  return (
    <>
      <SheetHead
        title="My tasks"
        detail={
          tasks.data.length === 0
            ? '✓ nothing waits for you'
            : `${countWords(tasks.data.length, 'task')}${late > 0 ? `, ${late} late` : ''}`
        }
      />
      {tasks.data.length === 0 ? (
        <Empty title="Nothing waits for you">
          Tasks come when somebody asks about data in a system that you look after.
        </Empty>
      ) : (
        <TaskTable
          title="What people wait for"
          tasks={tasks.data}
          href={(t) => `${TASKS}?task=${t.id}`}
          onAct={async (task, does) => {
            await request('POST', `/api/cases/tasks/${task}`, { does });
            await client.invalidateQueries({ queryKey: ['request-tasks'] });
            await client.invalidateQueries({ queryKey: ['cases-shelf'] });
          }}
        />
      )}
      <TaskItems />
    </>
  );
}

/** What there is of the person in the system that a task is about. */
function TaskItems() {
  const { query } = useDeskLocation();
  const [task, item] = [query.get('task'), query.get('item')];
  const viewed = useTask(task);
  if (task === null) return null;
  if (viewed.isError) return <Failure error={viewed.error} onRetry={() => void viewed.refetch()} />;
  if (!viewed.data) return <Loading what="the task" />;
  const { task: t, kind, open, items } = viewed.data;
  return (
    <>
      <h2 className={css['heading']}>{t.what}</h2>
      {items.length === 0 ? (
        <p>Nothing was found there by itself: look by hand, and say what you found.</p>
      ) : (
        <ul className={css['bearers']}>
          {items.map((i) => (
            <li key={i.id}>
              <button type="button" className={css['linkButton']} onClick={() => setQuery({ item: i.id })}>
                {i.title || i.name}
              </button>
              <span className={css['place']}>
                {i.theirs === 'ask' ? '○ whose?' : i.state === 'right' ? '✓ right' : i.state}
              </span>
            </li>
          ))}
        </ul>
      )}
      {item && (
        <ItemLook key={item} id={String(t.requestId)} item={item} kind={kind} open={open} items={items} />
      )}
    </>
  );
}
