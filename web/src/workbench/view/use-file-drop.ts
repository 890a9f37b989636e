import { useState, type DragEvent } from 'react';
import { bringIn } from '../add/bring-in';
import { useSession } from '../session';

/** Files that are dropped on something are brought in. @returns whether some hang over it, and what it has to listen to */
export function useFileDrop() {
  const session = useSession();
  const [dropping, setDropping] = useState(false);
  const ofFiles = (event: DragEvent): boolean => {
    if (!event.dataTransfer.types.includes('Files')) return false;
    event.preventDefault();
    return true;
  };
  const drop = {
    onDragOver: (event: DragEvent) => {
      if (ofFiles(event)) setDropping(true);
    },
    onDragLeave: () => setDropping(false),
    onDrop: (event: DragEvent) => {
      if (!ofFiles(event)) return;
      setDropping(false);
      void bringIn(session, [...event.dataTransfer.files], { pictureSize: { by: 'pixels' } });
    },
  };
  return { dropping, drop };
}
