/**
 * What columns are called in tables of the trade, in English, German, French and Spanish, also without their accents. Common practice, no
 * source.
 */
export const headings = {
  mac: /\bmac/i,
  vlan: /vlan/i,
  cpu: /v?cpus?\b|processor|\bcores?\b|prozessor|\bv?kerne?\b|processeur|c(?:œ|oe)urs?\b|procesador|n[uú]cleo/i,
  memory: /\bmem\b|memory|\bv?ram\b|^v?ram|(?<!daten)speicher|m[eé]moire|memoria/i,
  /** Room on disks, which in German is named after memory. */
  disks:
    /speicherplatz|provisioned(?! (?:v?cpu|mem|v?ram))|bereitgestellt|plattenspeicher|massenspeicher|dis[kc]s?\b|\bdis[kc]|storage|drives?\b|\bhdd|\bssd|festplatte|\bplatten?\b|laufwerk|disque|stockage|disco|almacenamiento/i,
  network: /network|segment|netz|r[eé]seau|\bred(?:es)?\b|\blan\b/i,
  address: /address|^ip|\bipv?[46]?\b|adresse|direcci[oó]n/i,
  state: /state|status|power|zustand|betrieb(?!ssystem)|[eé]tat\b|statut|estado/i,
  note: /note|comment|remark|description|bemerk|notiz|kommentar|anmerk|beschreib|remarque|commentaire|observaci|comentario|descripci/i,
  tags: /^tags?$|\btags\b|etikett|schlagw|[eé]tiquette|etiqueta/i,
  site: /site|location|\brooms?\b|place|standort|\bort\b|\braum\b|emplacement|\bsalle|\blieu|ubicaci|\bsala\b/i,
  purpose:
    /made for|purpose|\brole\b|^us(?:e|age)$|used (?:for|by)|zweck|aufgabe|verwendung|funktion|\brolle\b|\br[oô]le\b|fonction|utilisation|funci[oó]n|prop[oó]sito|^uso$/i,
  /** What was counted or measured of something, or says what kind it is, and is not its size. */
  measured:
    /\bin use\b|\bused\b|\busage\b|\bfree\b|\bactive\b|available|consumed|utili[sz]ation|\bpeak\b|\baverage\b|auslastung|belegt|genutzt|verbraucht|\bfrei|utilis[eé]|\blibre|\busad[oa]|en uso|consomm/i,
  /** The same in two orders: *disk type*, *number of disks*. */
  sort: /(?:dis[kc]|drive|storage|memory|\bram|platte|disque|disco|speicher)\w{0,3}[ _-]?(?:de )?(?:type|model|format|path|bus\b|controller|count|typ\b|modell|pfad|anzahl|tipo|modelo)/i,
  sortOf:
    /(?:type|number|count|anzahl|typ|nombre|tipo|cantidad|n[uú]mero) ?(?:(?:of|de|der|des) |d[’'])?(?:dis[kc]|drives|(?:fest)?platten|disques|discos)/i,
} as const

/** What rows that sum up others are called, in the same languages. Common practice, no source. */
export const SUMS =
  /^(?:(?:grand|sub|sous)?[ -]?totals?|totaux|total g[eé]n[eé]ral|sums?|averages?|counts?|(?:gesamt|zwischen)?summe|gesamt|insgesamt|durchschnitt|mittelwert|anzahl|sommes?|moyennes?|nombre|sumas?|subtotal(?:es)?|promedio|media|totales?)\b[\s:=()\d.,a-z]{0,40}$/i

/** What stands in a column of addresses where a machine has none of its own. */
export const BY_DHCP = /^(?:dhcp|dynami(?:c|sch|que)|din[aá]mic[oa]|auto(?:mati(?:c|sch|que))?|autom[aá]tic[oa])$/i
