import type { MetadataRoute } from 'next';

/** What makes the desk a program of a phone or a computer (W3C Web Application Manifest). */
export default function manifest(): MetadataRoute.Manifest {
  return {
    name: 'Calm Lantern',
    short_name: 'Lantern',
    description: 'Keeps an eye on jobs and services.',
    start_url: '/',
    scope: '/',
    display: 'standalone',
    background_color: '#f6f3eb',
    theme_color: '#1b2632',
    icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
  };
}
