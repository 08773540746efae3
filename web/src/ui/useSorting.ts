import {
  type Announcements,
  closestCenter,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { sortableKeyboardCoordinates } from "@dnd-kit/sortable";

type Item = { id: UniqueIdentifier; name: string };

/** What is told, to those who do not see it, of putting a list in order: names and places. */
export function told(list: Item[], others: (id: UniqueIdentifier) => string = String): Announcements {
  const name = (id: UniqueIdentifier) => list.find((x) => x.id === id)?.name ?? others(id);
  const place = (id: UniqueIdentifier) => `place ${list.findIndex((x) => x.id === id) + 1} of ${list.length}`;
  return {
    onDragStart: ({ active }) => `${name(active.id)} is picked up.`,
    onDragOver: ({ active, over }) =>
      over ? `${name(active.id)} is at ${place(over.id)}.` : `${name(active.id)} is outside of the list.`,
    onDragEnd: ({ active, over }) =>
      over ? `${name(active.id)} stands at ${place(over.id)}.` : `${name(active.id)} stays where it was.`,
    onDragCancel: ({ active }) => `${name(active.id)} stays where it was.`,
  };
}

/** How a list is put in order, by dragging and by keys, for a DndContext. What is dragged in from elsewhere is named by others. */
export function useSorting(list: Item[], others?: (id: UniqueIdentifier) => string) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  return {
    sensors,
    collisionDetection: closestCenter,
    accessibility: {
      announcements: told(list, others),
      screenReaderInstructions: {
        draggable:
          "Press space to pick it up, the arrow keys to move it, space to put it down, Escape to leave it where it was.",
      },
    },
  };
}
