/** What the panel says, in the languages that Nodley's own sentences ship in. */
const WORDS = {
  rehearsal: { en: 'Rehearsal', de: 'Probe', es: 'Ensayo' },
  'fill-in': { en: 'Fill in', de: 'Ausfüllen', es: 'Rellenar' },
  'filled-in': { en: 'Filled in.', de: 'Ausgefüllt.', es: 'Rellenado.' },
  wrong: { en: 'wrong in one way…', de: 'mit einem Fehler …', es: 'con un error…' },
  network: { en: 'The network is', de: 'Das Netz ist', es: 'La red está' },
  'as-it-is': { en: 'as it is', de: 'wie es ist', es: 'como está' },
  slow: { en: 'slow (3 s more)', de: 'langsam (3 s mehr)', es: 'lenta (3 s más)' },
  lost: { en: 'lost', de: 'weg', es: 'caída' },
  refusing: {
    en: 'there, but the service refuses',
    de: 'da, aber der Dienst lehnt ab',
    es: 'bien, pero el servicio rechaza',
  },
  rules: {
    en: "The page's own rules",
    de: 'Die Regeln der Seite',
    es: 'Las reglas de la página',
  },
  'rules-off': {
    en: 'Only the service judges now.',
    de: 'Jetzt prüft nur der Dienst.',
    es: 'Ahora solo comprueba el servicio.',
  },
  keys: { en: 'Keys of texts', de: 'Schlüssel der Texte', es: 'Claves de los textos' },
  last: { en: 'The last exchange', de: 'Der letzte Austausch', es: 'El último intercambio' },
  nothing: {
    en: 'Nothing has been sent yet.',
    de: 'Es wurde noch nichts gesendet.',
    es: 'Todavía no se ha enviado nada.',
  },
  sent: { en: 'sent', de: 'gesendet', es: 'enviado' },
  answered: { en: 'answered', de: 'beantwortet', es: 'respuesta' },
  'no-answer': {
    en: 'no answer: the network is lost',
    de: 'keine Antwort: das Netz ist weg',
    es: 'sin respuesta: la red está caída',
  },
  'in-the-service': { en: 'in the service', de: 'im Dienst', es: 'en el servicio' },
  twice: {
    en: 'Send it from two sides at once',
    de: 'Von zwei Seiten zugleich senden',
    es: 'Enviarlo desde dos lados a la vez',
  },
  'one-side': { en: 'one side', de: 'die eine Seite', es: 'un lado' },
  'other-side': { en: 'the other side', de: 'die andere Seite', es: 'el otro lado' },
  version: { en: 'version', de: 'Version', es: 'versión' },
  'index-decided': {
    en: 'The index of what stands only once has decided: one of the two is kept.',
    de: 'Der Index dessen, was nur einmal steht, hat entschieden: Eines von beiden ist gespeichert.',
    es: 'Ha decidido el índice de lo que es único: se guarda uno de los dos.',
  },
  'version-decided': {
    en: 'The version has decided: one of the two edits is kept, the other one knows an old version.',
    de: 'Die Version hat entschieden: Eine Änderung ist gespeichert, die andere kennt eine alte Version.',
    es: 'Ha decidido la versión: se guarda un cambio, el otro conoce una versión antigua.',
  },
  'both-kept': {
    en: 'Both are kept: nothing in this form stands only once.',
    de: 'Beide sind gespeichert: Nichts in diesem Formular steht nur einmal.',
    es: 'Se guardan los dos: nada en este formulario es único.',
  },
  'neither-kept': {
    en: 'Neither is kept: the same was wrong with both.',
    de: 'Keines ist gespeichert: Beiden fehlte dasselbe.',
    es: 'No se guarda ninguno: a los dos les pasaba lo mismo.',
  },
  'one-kept': {
    en: 'One of the two is kept.',
    de: 'Eines von beiden ist gespeichert.',
    es: 'Se guarda uno de los dos.',
  },
  'who-decided': { en: 'who decided', de: 'wer entschieden hat', es: 'quién ha decidido' },
  'by-page': {
    en: 'a rule, on the page and in the service',
    de: 'eine Regel, auf der Seite und im Dienst',
    es: 'una regla, en la página y en el servicio',
  },
  'by-service': {
    en: 'the service, which alone knows',
    de: 'der Dienst, der allein es weiß',
    es: 'el servicio, que es el único que lo sabe',
  },
  'by-index': {
    en: 'the index of what stands only once',
    de: 'der Index dessen, was nur einmal steht',
    es: 'el índice de lo que es único',
  },
  'by-asked': {
    en: 'somebody outside who was asked',
    de: 'jemand außerhalb, der gefragt wurde',
    es: 'alguien de fuera a quien se preguntó',
  },
  'in-the-store': { en: 'in the store', de: 'im Bestand', es: 'en el registro' },
  line: { en: 'line', de: 'Zeile', es: 'línea' },
  secret: { en: '(a secret)', de: '(geheim)', es: '(secreto)' },
  'lost-rehearsed': {
    en: 'The network is lost, as rehearsed.',
    de: 'Das Netz ist weg, zur Probe.',
    es: 'La red está caída, como ensayo.',
  },
  'refused-rehearsed': {
    en: 'Refused, as rehearsed.',
    de: 'Abgelehnt, zur Probe.',
    es: 'Rechazado, como ensayo.',
  },
  'all-refused-rehearsed': {
    en: 'The whole is refused, as rehearsed.',
    de: 'Das Ganze ist abgelehnt, zur Probe.',
    es: 'Todo se rechaza, como ensayo.',
  },
};

/** A word in the page's language; in English where there is none. */
export function say(word: keyof typeof WORDS): string {
  const [language] = document.documentElement.lang.split('-');
  const words: Record<string, string> = WORDS[word];
  return words[language!] ?? WORDS[word].en;
}
