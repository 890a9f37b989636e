import type { Shot } from '../../../../core/document';
import { OpenShot } from '../../shot/open-shot';
import { tabStore } from '../../shot/tab-store';
import { TestBrowser, TestServer } from '../../shot/testing';
import { Session } from '../session';
import { Choice } from '../state/choice';
import { Clipboard } from '../state/clipboard';
import { Compare } from '../state/compare';
import { Keying } from '../state/keying';
import { Plot } from '../state/plot';
import { Sheets } from '../state/sheets';
import { Strips } from '../state/strips';
import { Time } from '../state/time';
import { ViewSettings } from '../state/view-settings';

/** A workbench without a page, for tests: an open shot and all slices, with a server and a browser's store in memory. */
export async function workbench(
  shot: Shot,
  told: (message: string) => void = () => undefined,
): Promise<Session> {
  const server = new TestServer(shot);
  const browser = new TestBrowser();
  const doc = await OpenShot.open({
    name: 'Shot',
    revision: 0,
    document: shot,
    server: server.door,
    store: tabStore('shot', 'page', browser.store, browser.door('page')),
    told,
    cameIn: () => undefined,
  });
  const session = Object.create(Session.prototype) as Session;
  return Object.assign(session, {
    doc,
    choice: new Choice(),
    view: new ViewSettings(),
    keying: new Keying(),
    sheets: new Sheets(),
    clipboard: new Clipboard(),
    plot: new Plot(),
    strips: new Strips(),
    compare: new Compare(shot),
    time: new Time(1),
  });
}
