-- A field stands in its table as it was founded; how it lies since is told by entries of the kind field-shape, of which
-- the last one counts. It may be founded by its area alone.
ALTER TABLE fields ALTER COLUMN boundary DROP NOT NULL;
-- Names change with the shapes: that each stands for one field is seen to by the writer, under a lock.
ALTER TABLE fields DROP CONSTRAINT fields_farm_id_name_key;

-- The few kinds that are looked up by themselves in a long ledger.
CREATE INDEX entries_of_a_kind ON entries (farm_id, kind) WHERE kind IN ('field-shape', 'climate-normals');
