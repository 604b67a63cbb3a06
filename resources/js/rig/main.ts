/** Virtual rig: devices that stand in for real ones, named by the last part of the address. */
const device = decodeURIComponent(location.pathname.split('/').filter(Boolean).pop() ?? '');
if (device === 'venue') void import('./venue');
else if (device === 'lights') void import('./lights');
else if (device === 'box') void import('./box');
else void import('./processor');
