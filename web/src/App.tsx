import { useStore } from 'zustand';
import { AboutScreen } from './about/AboutScreen';
import { Progress } from './page/Progress';
import { routeStore } from './page/route';
import { ProjectsScreen } from './projects/ProjectsScreen';
import { WorkshopScreen } from './workshop/WorkshopScreen';

export function App() {
  const route = useStore(routeStore, (s) => s.route);
  return (
    <>
      {route.screen === 'projects' && <ProjectsScreen />}
      {route.screen === 'about' && <AboutScreen />}
      {route.screen === 'workshop' && (
        <WorkshopScreen key={route.project} projectId={route.project} partId={route.part} />
      )}
      <Progress />
    </>
  );
}
