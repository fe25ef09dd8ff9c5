import { pluralsOf, singularOf, uncamelled } from '../../../core/words.ts';

/**
 * What names of tables and columns are made of, as it is said in English: in German, Dutch, Danish, Norwegian and Swedish, and behind a bar in French, Spanish, Italian, Portuguese and Polish, where what a
 * thing is comes first. One of them, and behind a stroke several. Umlauts and the like are two letters; they can be one as well. What is an English word for something else, as "side" and "data", is left out.
 */
const WORDS: Readonly<Record<string, string>> = {
  page: 'seite/seiten sida/sidor | pagina/paginas/pagine strona/strony',
  category: 'kategorie/kategorien kategori/kategorier /categorieen | categorie categoria/categorias kategoria',
  article: 'artikel | articulo/articulos articolo/articoli artigo/artigos artykul/artykuly',
  product: 'produkt/produkte/produkter /producten | produit/produits producto/productos prodotto/prodotti produto/produtos /produkty',
  menu: 'menue/menues meny/menyer',
  item: 'eintrag/eintraege | elemento/elementos/elementi voce/voci pozycja/pozycje',
  form: 'formular/formulare/formularer formulier/formulieren skjema/skjemaer formulaer | formulaire/formulaires formulario/formularios formularz/formularze',
  field: 'feld/felder veld/velden felt/felter faelt | champ/champs campo/campos/campi /pola',
  template: 'vorlage/vorlagen sjabloon/sjablonen skabelon/skabeloner | modele/modeles plantilla/plantillas modello/modelli modelo/modelos szablon/szablony',
  block: 'baustein/bausteine blok/blokken blokk/blokker | bloc/blocs bloque/bloques blocco/blocchi bloco/blocos',
  setting: 'einstellung/einstellungen instelling/instellingen indstilling/indstillinger innstilling/innstillinger instaellning/instaellningar | parametre/parametres reglage/reglages ajuste/ajustes configuracion/configuraciones impostazione/impostazioni configuracao/configuracoes ustawienie/ustawienia',
  option: 'optie/opties | opcion/opciones opzione/opzioni opcao/opcoes opcja/opcje',
  config: 'konfiguration/konfigurationen konfigurasjon | configurazione konfiguracja',
  translation: 'uebersetzung/uebersetzungen vertaling/vertalingen oversettelse/oversettelser oversaettelse/oversaettelser oeversaettning/oeversaettningar | traduction/traductions traduccion/traducciones traduzione/traduzioni traducao/traducoes tlumaczenie/tlumaczenia',
  language: 'sprache/sprachen taal/talen spraak sprog | langue/langues idioma/idiomas lingua/lingue jezyk/jezyki',
  role: 'rolle/rollen/roller | ruolo/ruoli papel/papeis rola',
  group: 'gruppe/gruppen/grupper groep/groepen grupp | groupe/groupes grupo/grupos gruppo/gruppi grupa/grupy',
  image: 'bild/bilder bilde billede/billeder afbeelding/afbeeldingen | imagen/imagenes immagine/immagini imagem/imagens obraz/obrazy zdjecie/zdjecia',
  photo: 'foto/fotos | fotografia/fotografias',
  file: 'datei/dateien fil/filer | fichier/fichiers archivo/archivos arquivo/arquivos plik/pliki',
  link: 'verweis/verweise lenke/lenker laenk/laenkar | lien/liens enlace/enlaces collegamento/collegamenti',
  tag: 'schlagwort/schlagworte/schlagwoerter',
  topic: 'thema/themen | tema/temas/temi',
  question: 'frage/fragen vraag/vragen spoersmaal spoergsmaal fraaga/fraagor | pregunta/preguntas domanda/domande pergunta/perguntas pytanie/pytania',
  step: 'schritt/schritte stap/stappen trinn steg | etape/etapes paso/pasos passo/passi/passos krok/kroki',
  title: 'titel tittel | titre titulo titolo tytul',
  name: 'name bezeichnung naam navn namn | nom nombre nome nazwa',
  label: 'beschriftung | libelle etiqueta etichetta etykieta',
  heading: 'ueberschrift',
  subject: 'betreff onderwerp emne aemne | sujet asunto oggetto assunto',
  description: 'beschreibung beschrijving beskrivelse beskrivning | descripcion descrizione descricao opis',
  content: 'inhalt/inhalte inhoud innhold indhold innehaall | contenu/contenus contenido/contenidos contenuto/contenuti conteudo/conteudos tresc',
  text: 'texte tekst/teksten/tekster | texto/textos testo/testi',
  value: 'wert/werte waarde/waarden verdi/verdier vaerdi/vaerdier vaerde/vaerden | valeur/valeurs valor/valores valore/valori wartosc/wartosci',
  key: 'schluessel sleutel noekkel noegle nyckel | cle clave chiave chave klucz',
  code: 'kuerzel kode kod | codigo codice',
  type: 'typ soort | tipo/tipos/tipi',
  status: 'zustand tilstand | estado stato etat',
  active: 'aktiv actief sichtbar | actif activo attivo ativo aktywny aktywna',
  parent: 'eltern ober uebergeordnet ouder bovenliggend forelder foraelder foeraelder overordnet oeverordnad | padre superieur genitore pai nadrzedny nadrzedna nadrzedne rodzic',
  next: 'naechste naechster volgende neste naeste naesta | suivant suivante siguiente prossimo prossima proximo proxima nastepny nastepna',
  previous: 'vorherige vorige forrige foeregaaende | precedent precedente anterior poprzedni poprzednia',
  target: 'ziel doel | cible destino destinazione',
  source: 'quelle kilde kaella | origen origine zrodlo',
  position: 'sortierung reihenfolge rang volgorde rekkefoelge raekkefoelge sortering positie posisjon | ordre orden ordine ordem kolejnosc posicion posizione posicao',
  created: 'erstellt erstellung angelegt aangemaakt opprettet oprettet skapad | cree creado creacion creato creazione criado criacao creation utworzono utworzony',
  modified: 'geaendert aenderung aktualisiert gewijzigd bijgewerkt endret oppdatert aendret opdateret aendrad uppdaterad | modifie modification modificado modificacion modificato modifica actualizado aggiornato atualizado alteracao zmieniono zmieniony',
  deleted: 'geloescht verwijderd slettet raderad | supprime eliminado borrado cancellato eliminato excluido apagado usunieto',
  at: 'am | il le',
  date: 'datum dato | fecha',
  time: 'zeit zeitpunkt uhrzeit | hora heure',
  width: 'breite breedte bredde | largeur ancho larghezza largura szerokosc',
  height: 'hoehe hoogte hoeyde hoejde hoejd | hauteur altura altezza wysokosc',
  size: 'groesse grootte stoerrelse storlek | taille tamano dimensione tamanho rozmiar',
  price: 'preis prijs pris | prix precio prezzo preco cena',
  amount: 'menge betrag bedrag beloep | quantite cantidad quantita quantidade montant importe kwota',
  duration: 'dauer duur varighet varighed | duree duracion durata duracao',
  count: 'anzahl zaehler teller aantal antall antal | compteur contador contatore licznik',
  views: 'aufrufe | vues visualizaciones visualizzazioni',
  visits: 'besuche bezoeken besoek | visitas visite wizyty',
  user: 'benutzer nutzer gebruiker/gebruikers bruker/brukere bruger/brugere anvaendare | utilisateur/utilisateurs usuario/usuarios utente/utenti utilizador/utilizadores uzytkownik/uzytkownicy',
  author: 'forfatter foerfattare | autor auteur autore',
  owner: 'besitzer eigentuemer eigenaar eier ejer aegare | proprietaire propietario proprietario wlasciciel',
  sender: 'absender afzender avsender afsender | expediteur remitente mittente remetente',
  password: 'passwort kennwort wachtwoord passord adgangskode loesenord | motdepasse contrasena senha haslo',
  mail: 'epost | courriel correo',
  customer: 'kunde/kunden/kunder klant/klanten kund | cliente/clientes/clienti klient/klienci',
  order: 'bestellung/bestellungen auftrag/auftraege bestelling/bestellingen bestilling/bestillinger bestaellning/bestaellningar | commande/commandes pedido/pedidos /ordini zamowienie/zamowienia',
  booking: 'buchung/buchungen reservierung/reservierungen boeking/boekingen reservering/reserveringen bokning/bokningar | reserva/reservas prenotazione/prenotazioni rezerwacja/rezerwacje',
  payment: 'zahlung/zahlungen betaling/betalingen/betalinger | paiement/paiements pago/pagos pagamento/pagamenti/pagamentos platnosc/platnosci',
  submission: 'eingang/eingaenge einsendung/einsendungen inzending/inzendingen innsending/innsendinger indsendelse/indsendelser | soumission/soumissions envio/envios invio/invii zgloszenie/zgloszenia',
  inquiry: 'anfrage/anfragen aanvraag/aanvragen henvendelse/henvendelser | demande/demandes consulta/consultas richiesta/richieste zapytanie/zapytania',
  response: 'antwort/antworten antwoord/antwoorden | reponse/reponses respuesta/respuestas risposta/risposte resposta/respostas odpowiedz/odpowiedzi',
  comment: 'kommentar/kommentare/kommentarer reactie/reacties | commentaire/commentaires comentario/comentarios commento/commenti komentarz/komentarze',
  review: 'bewertung/bewertungen beoordeling/beoordelingen anmeldelse/anmeldelser | avis resena/resenas recensione/recensioni avaliacao/avaliacoes recenzja/recenzje',
  message: 'nachricht/nachrichten melding/meldinger meddelande/meddelanden | mensaje/mensajes messaggio/messaggi mensagem/mensagens wiadomosc/wiadomosci',
  session: 'sitzung/sitzungen sessie/sessies | sesion/sesiones sessione/sessioni sessao/sessoes sesja/sesje',
  log: 'protokoll/protokolle logboek logg | dziennik',
  history: 'verlauf geschiedenis historikk historik | historique historial cronologia historico',
};
/** These say how something is, and what they say it of comes behind them, or nothing. */
const HOW = new Set(['active', 'parent', 'next', 'previous', 'created', 'modified', 'deleted', 'at']);

/** A word, what one of them is called, and what it is in English. `first`: in its language what a thing is comes before what it is of. */
interface Said { readonly word: string; readonly one: string; readonly meant: string; readonly first: boolean }
/** "ü" is "ue" or "u", "å" is "aa" or "a". */
const TWO_LETTERS = /(?<=[aou])e|(?<=a)a/g;
const SAID: ReadonlyMap<string, Said> = new Map(Object.entries(WORDS).flatMap(([meant, all]) => all.split(' | ').flatMap((tongues, i) => tongues.split(' ').flatMap((forms) => {
  const [one = '', ...many] = forms.split('/');
  return [one, ...many].filter((word) => word !== '').map((word): Said => ({ word, one: one === '' ? word : one, meant: word === one ? meant : several(meant), first: i > 0 && !HOW.has(meant) }));
}))).flatMap((said) => [[said.word, said], [said.word.replace(TWO_LETTERS, ''), said]] as const));
const SHORTEST = 3;
const MOST_KNOWN = 20_000;
const known = new Map<string, string>();

function several(word: string): string { return (word.endsWith('y') ? pluralsOf(word).at(-1) : pluralsOf(word)[0]) ?? word; }

/** "hb_seiten" → hb_seite: what one row of a table is called. */
export function oneOf(table: string): string {
  const [, before = '', last = ''] = /^(.*[_-])?(.*)$/.exec(table) ?? [];
  const said = SAID.get(last);
  return said === undefined ? singularOf(table) : before + said.one;
}

/** A name as the rules of drafts read it: "nextPage" → next_page, "naechsteSeite" → next_page. What is no such word stays what it is; one that is put together of two becomes two. */
export function inEnglish(name: string): string {
  const there = known.get(name);
  if (there !== undefined) return there;
  const read = perEach(lastFirst(plainLetters(uncamelled(name)))).replace(/[a-z]{2,}/g, (word) => SAID.get(word)?.meant ?? apart(word) ?? word);
  // Names of members of values are looked up as well: there may be any number of them.
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(name, read);
  return read;
}

/** A word that is put together of two: of which both are known, or the last one, where no English word ends so. */
function apart(word: string): string | undefined {
  for (let end = SHORTEST; end <= word.length - SHORTEST; end++) {
    const [first, last] = [word.slice(0, end), word.slice(end)];
    const [start, meant] = [SAID.get(first)?.meant, SAID.get(last)?.meant];
    if (meant !== undefined && (start !== undefined || (last.length >= LONG && !ENGLISH_ENDS.test(last)))) return `${start ?? first}_${meant}`;
  }
  return undefined;
}
const LONG = 5;
const ENGLISH_ENDS = /^(?:roller|filer|liens|cible)$/;

/** "pagina_inicio" → inicio_pagina; an id stays behind. What belongs to one of something is called as in English: "formulario_campos". */
function lastFirst(name: string): string {
  return name.replace(/^(_?)([a-z]+)_((?!ids?$).+?)(_ids?)?$/, (said, sign: string, first: string, more: string, id = '') => (SAID.get(first)?.first === true && (isMany(first) || !isMany(more.replace(/^.*_/, ''))) ? `${sign}${more}_${first}${id}` : said));
}
function isMany(word: string): boolean { const said = SAID.get(word); return said !== undefined && said.word !== said.one; }

/** "pro_seite", which is no page, but how many there are on each. */
function perEach(name: string): string { return name.replace(/(?<=^|_)(?:pro|por|par)_(?=([a-z]{2,}))/g, (said, of: string) => (SAID.has(of) ? 'per_' : said)); }

/** "Fähre" → Fahre, "søk" → sok: letters of Latin without what is above, below and through them. */
export function plainLetters(text: string): string {
  return /^[\x20-\x7e]*$/.test(text) ? text : text.normalize('NFD').replace(/\p{M}+/gu, '').replace(/[ßøłæœđ]/gi, (sign) => LETTERS[sign.toLowerCase()] ?? sign);
}
const LETTERS: Readonly<Record<string, string>> = { ß: 'ss', ø: 'o', ł: 'l', æ: 'ae', œ: 'oe', đ: 'd' };

/** How one of something ends, and several, where English has no such plural: "Fähre" and "Fähren", "gabarra" and "gabarre". */
const PLURALS: readonly (readonly [one: string, several: string])[] = [['', 'n'], ['', 'en'], ['', 'er'], ['', 'r'], ['', 'e'], ['', 'ne'], ['a', 'e'], ['o', 'i'], ['e', 'i'], ['a', 'y'], ['a', 'i'], ['a', 'or'], ['e', 'ar'], ['', 'ar'], ['ao', 'oes'], ['m', 'ns'], ['l', 'is'], ['z', 'ces']];

/** May a word be one of what another one is a plural of, in some language or other? It takes more than this to be sure. */
export function isOneOf(word: string, many: string): boolean {
  return word.length >= SHORTEST && PLURALS.some(([one, ending]) => word.endsWith(one) && many === word.slice(0, word.length - one.length) + ending);
}
