import type { Entry } from '../site/state.ts';
import type { SiteName } from './names.ts';

/** Visitors' content: it is shown by listings and never carried. The live site has its own. */
export function entries(name: SiteName): Entry[] {
  const crossing = (slug: string, title: string, minutes: number, departs: string, vessel: string): Entry => ({ type: 'crossing', slug, title, fields: { minutes, departs, vessel, seats: 120 } });
  const shared = [
    crossing('oxna-skerrin', 'Oxna – Skerrin Pier', 45, '07:20', 'Marl'),
    crossing('skerrin-hollow', 'Skerrin Pier – Hollow Sound', 70, '08:40', 'Tern of Oxna'),
    crossing('hollow-farrow', 'Hollow Sound – Farrow Ness', 25, '10:15', 'Marl'),
    crossing('oxna-farrow', 'Oxna – Farrow Ness', 95, '13:05', 'Grey Selkie'),
  ];
  const vessel = (slug: string, title: string, seats: number, built: number): Entry => ({ type: 'vessel', slug, title, fields: { seats, built } });
  const vessels = [vessel('marl', 'Marl', 120, 2009), vessel('tern', 'Tern of Oxna', 210, 2016), vessel('selkie', 'Grey Selkie', 340, 2021)];
  const harbour = (slug: string, title: string): Entry => ({ type: 'harbour', slug, title, fields: { berths: slug.length } });
  const own: Entry[] = name === 'live' ? [crossing('skerrin-oxna-late', 'Skerrin Pier – Oxna (late boat)', 45, '21:30', 'Marl')] : [];
  return [...shared, ...own, ...vessels, harbour('oxna', 'Oxna'), harbour('skerrin', 'Skerrin Pier'), harbour('hollow', 'Hollow Sound'), harbour('farrow', 'Farrow Ness')];
}
