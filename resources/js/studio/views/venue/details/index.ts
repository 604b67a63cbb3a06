export { CameraDetails } from './CameraDetails';
export { ManyDetails } from './ManyDetails';
export { PanelDetails } from './PanelDetails';
export { ProjectorDetails } from './ProjectorDetails';
export { PropDetails } from './PropDetails';
export { RigDetails } from './RigDetails';
export { SeatDetails } from './SeatDetails';
export { SurfaceDetails } from './SurfaceDetails';
