import { X } from 'lucide-react';
import { useStore } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { setLimited } from '../hand/planning';
import { pickStore } from '../stores/pickStore';
import { countOf } from '../ui/numbers';
import { Row } from '../ui/Row';

/** The faces that the cut is confined to, and the way to lift that. */
export function Limit() {
  const { faces, limited, shown } = useStore(
    pickStore,
    useShallow(({ faces, limited, shown }) => ({ faces, limited, shown })),
  );
  if (faces.length === 0 && shown === null) return null;
  const hidden = shown !== null && ' · hidden faces are left alone';
  return (
    <div data-testid="limit" data-faces={limited ? faces.length : 0}>
      <Row name="limit">
        {faces.length > 0 && limited ? (
          <span className="hatched inline-flex items-center gap-1 rounded px-2">
            {countOf(faces.length, 'picked face')}
            <button type="button" aria-label="Lift the limit" onClick={() => setLimited(false)}>
              <X size={14} />
            </button>
          </span>
        ) : (
          <>
            the whole part{hidden}
            {faces.length > 0 && (
              <button type="button" className="ml-2 underline" onClick={() => setLimited(true)}>
                to {countOf(faces.length, 'picked face')}
              </button>
            )}
          </>
        )}
      </Row>
    </div>
  );
}
