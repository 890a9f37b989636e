import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { useLocation, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { api } from '../shared/api';
import { CannotOpen, Loading } from '../shared/states';
import { Foot } from './foot/foot';
import { AddSheet } from './add/add-sheet';
import { CommandSearch } from './command-search';
import { Hotkeys, KeysHelp } from './hotkeys';
import { ResponseDialog } from './links/response-dialog';
import { ClearanceDialog } from './clearance/clearance-dialog';
import { askedPlace, showProblem } from './checks/show-problem';
import { PosesDialog } from './poses/poses-dialog';
import { FindDialog } from './find/find-dialog';
import { TakeApartDialog } from './keys/take-apart-dialog';
import { ReportDialog } from './report/report-dialog';
import { SmallFilm } from './render/here/small-film';
import { WhyDialog } from './links/why-dialog';
import { DeleteDialog } from './parts/delete-dialog';
import { ShotSheet } from './shot-sheet';
import { NotesDialog } from './sound/notes-dialog';
import { Scrubbing } from './sound/sound-rows';
import { SoundSheet } from './sound/sound-sheet';
import { PartsPanel } from './parts/parts-panel';
import { Session, SessionProvider } from './session';
import { TopStrip } from './top-strip';
import { ValuesPanel } from './values/values-panel';
import { View } from './view/view';

/** The workbench for one shot. */
export function WorkbenchPage() {
  const { id = '' } = useParams();
  const opened = useQuery({
    queryKey: ['shot', id],
    queryFn: () => api.shot(id),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  });
  const [session, setSession] = useState<Session | null>(null);
  const [failure, setFailure] = useState<unknown>(null);
  const [tries, setTries] = useState(0);
  const { search, pathname } = useLocation();
  const navigate = useNavigate();

  // A page that was asked for at a place in the shot opens there, once.
  useEffect(() => {
    const place = session && askedPlace(search);
    if (!place) return;
    showProblem(session, place);
    void navigate(pathname, { replace: true });
  }, [session, search, pathname, navigate]);

  useEffect(() => {
    if (!opened.data) return;
    let current: Session | null = null;
    let left = false;
    const warn = (event: BeforeUnloadEvent): void => {
      if (current?.doc.leavesSomething) event.preventDefault();
    };
    const hurry = (): void => current?.doc.hurry();
    addEventListener('beforeunload', warn);
    addEventListener('online', hurry);
    Session.open(opened.data).then(
      (made) => {
        if (left) {
          made.close();
          return;
        }
        current = made;
        setSession(made);
        document.title = `${made.doc.now.name} - Whirl`;
      },
      (error: unknown) => {
        if (!left) setFailure(error);
      },
    );
    return () => {
      left = true;
      removeEventListener('beforeunload', warn);
      removeEventListener('online', hurry);
      // What is told of this shot, and offered to be undone, is of no use in another.
      toast.dismiss();
      current?.close();
      setSession(null);
      setFailure(null);
      document.title = 'Whirl';
    };
  }, [opened.data, tries]);

  const error = opened.error ?? failure;
  if (error !== null) {
    const again = (): void => {
      setTries(tries + 1);
      void opened.refetch();
    };
    return <CannotOpen what="shot" error={error} onRetry={again} />;
  }
  if (!session)
    return (
      <div className="flex h-full">
        <Loading what="the shot" />
      </div>
    );
  return (
    <SessionProvider value={session}>
      <Hotkeys />
      <KeysHelp />
      <AddSheet />
      <ShotSheet />
      <SoundSheet />
      <NotesDialog />
      <Scrubbing />
      <CommandSearch />
      <DeleteDialog />
      <WhyDialog />
      <ResponseDialog />
      <ReportDialog />
      <FindDialog />
      <ClearanceDialog />
      <PosesDialog />
      <TakeApartDialog />
      <SmallFilm />
      <div className="flex h-full flex-col">
        <TopStrip />
        <Group orientation="vertical" className="min-h-0 flex-1 p-1.5">
          <Panel defaultSize="62%" minSize="220px">
            <div className="grid h-full grid-cols-[216px_minmax(0,1fr)_292px] gap-1.5">
              <PartsPanel />
              <View />
              <ValuesPanel />
            </div>
          </Panel>
          <Separator
            className="h-1.5 cursor-row-resize rounded hover:bg-teal/40"
            aria-label="Height of the foot"
          />
          <Panel minSize="120px">
            <Foot />
          </Panel>
        </Group>
      </div>
    </SessionProvider>
  );
}
