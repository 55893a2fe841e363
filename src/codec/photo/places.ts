/** The namespace in which IPTC Core 1.5 keeps city, region and country: letters of ASCII in hex. */
export const IPTC_CITY_NAMESPACE = Buffer.from(
  '687474703a2f2f6e732e61646f62652e636f6d2f70686f746f73686f702f312e302f',
  'hex',
).toString('latin1');

/**
 * Properties of XMP whose value tells where a photo was taken or what place it shows, by namespace and local name, whatever
 * prefix a file gives the namespace. The address of whoever took it (`CreatorContactInfo`) is no such place.
 */
const PLACES: Readonly<Record<string, RegExp>> = {
  // Exif in XMP: GPSLatitude, GPSLongitude and all others of the folder GPS (CIPA DC-010-2024, 6.3).
  'http://ns.adobe.com/exif/1.0/': /^GPS/,
  // IPTC Core 1.5: City, Province or State, Country.
  [IPTC_CITY_NAMESPACE]: /^(City|State|Country)$/,
  // IPTC Core 1.5: Sublocation and Country Code.
  'http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/': /^(Location|CountryCode)$/,
  // IPTC Extension 1.8: Location Created, Location Shown, and the fields of such a location wherever they stand.
  'http://iptc.org/std/Iptc4xmpExt/2008-02-29/':
    /^(Location(Created|Shown|Id|Name)?|City|CountryCode|CountryName|ProvinceState|Sublocation|WorldRegion|Place\w*)$/,
  // XMP Dynamic Media (XMP part 2, 3.4).
  'http://ns.adobe.com/xmp/1.0/DynamicMedia/': /^shotLocation$/,
  // Dublin Core: coverage is a place or a time (ISO 15836-1).
  'http://purl.org/dc/elements/1.1/': /^coverage$/,
  'http://purl.org/dc/terms/': /^(coverage|spatial)$/,
  // PRISM 3.0: location of what is told of.
  'http://prismstandard.org/namespaces/basic/2.0/': /^location$/,
  'http://prismstandard.org/namespaces/basic/3.0/': /^location$/,
  // W3C Basic Geo and GeoRSS: points, lines, names.
  'http://www.w3.org/2003/01/geo/wgs84_pos#': /./,
  'http://www.georss.org/georss': /./,
};

/**
 * What names of places are like in namespaces of cameras, drones and programs, which no standard lists: `GpsLatitude`,
 * `GpsLongtitude` as one maker spells it, `RelativeAltitude`, `WorldRegion`, `City`.
 */
const LIKE_A_PLACE =
  /^gps|latitude|longt?itude|altitude|^(world|sub)?(region|location)$|^location(created|shown|name)$|^(city|town|village|state|province|provincestate|country|countrycode|countryname|address|place|placename|geotag|geohash|geolocation|coordinates?|landmark)$/i;

/** Namespaces whose own names are listed above, or are known to tell no place: what is like one there is not. */
const KNOWN = new Set([
  ...Object.keys(PLACES),
  'http://www.w3.org/1999/02/22-rdf-syntax-ns#',
  'http://www.w3.org/XML/1998/namespace',
  'http://www.w3.org/2000/xmlns/',
]);

/** Whether a property of XMP tells a place. */
export function tellsPlace(namespace: string, name: string): boolean {
  if (PLACES[namespace]?.test(name)) return true;
  return !KNOWN.has(namespace) && LIKE_A_PLACE.test(name);
}
