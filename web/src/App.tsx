import { lazy, Suspense } from 'react';
import { useStore } from 'zustand';
import { AboutScreen } from './about/AboutScreen';
import { Progress } from './page/Progress';
import { routeStore } from './page/route';
import { ProjectsScreen } from './projects/ProjectsScreen';
import { WorkshopScreen } from './workshop/WorkshopScreen';

// What lessons say is fetched beside the projects.
const LessonList = lazy(() => import('./lessons/LessonList'));

export function App() {
  const route = useStore(routeStore, (s) => s.route);
  return (
    <>
      {route.screen === 'projects' && (
        <ProjectsScreen
          lessons={
            <Suspense>
              <LessonList />
            </Suspense>
          }
        />
      )}
      {route.screen === 'about' && <AboutScreen />}
      {route.screen === 'workshop' && (
        <WorkshopScreen key={route.project} projectId={route.project} partId={route.part} />
      )}
      <Progress />
    </>
  );
}
