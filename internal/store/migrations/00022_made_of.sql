-- +goose Up
-- What a product is made of decides where it may go. Of one that disinfects without alcohol nobody has said it yet: it is asked once, and goes
-- nowhere but onto the outside of a case until then.
ALTER TABLE product
    ADD COLUMN made_of text[] NOT NULL DEFAULT '{}',
    ADD COLUMN made_of_asked boolean NOT NULL DEFAULT false;
UPDATE product SET
    made_of = CASE product_group
        WHEN 'alcohol' THEN ARRAY['alcohol'] WHEN 'alcohol-wipe' THEN ARRAY['alcohol']
        WHEN 'antibacterial-cleaner' THEN ARRAY['antibacterial-cleaner'] ELSE ARRAY['unknown'] END,
    made_of_asked = product_group IN ('alcohol', 'alcohol-wipe', 'antibacterial-cleaner');
ALTER TABLE product
    DROP COLUMN product_group,
    ALTER COLUMN made_of DROP DEFAULT,
    ADD CONSTRAINT product_made_of CHECK (cardinality(made_of) > 0);

-- A school from before keeps what it had, also where it had never chosen: the old defaults are written down, and it is asked once whether
-- they are to stay.
ALTER TABLE school ADD COLUMN asked_practices text[] NOT NULL DEFAULT '{}';
UPDATE school SET asked_practices = ARRAY(
    SELECT p FROM unnest(ARRAY['profile', 'reed-when']) p
    WHERE NOT EXISTS (SELECT FROM practice_choice c WHERE c.school_id = school.school_id AND c.practice = p));
INSERT INTO practice_choice (school_id, practice, option)
    SELECT school_id, p, CASE p WHEN 'profile' THEN 'standard' ELSE 'first' END FROM school, unnest(asked_practices) p;

-- Things of kits that a school keeps elsewhere than usual: in every case, in a full kit, in the cupboard.
CREATE TABLE kit_tier (
    school_id uuid NOT NULL REFERENCES school,
    kit       text NOT NULL,
    supply    text NOT NULL,
    tier      text NOT NULL CHECK (tier IN ('case', 'full', 'cupboard')),
    PRIMARY KEY (school_id, kit, supply)
);
ALTER TABLE kit_tier ENABLE ROW LEVEL SECURITY;
CREATE POLICY own_school ON kit_tier USING (school_id = (SELECT current_school()));
GRANT SELECT, INSERT, UPDATE, DELETE ON kit_tier TO solfeggio_app;
CREATE TRIGGER touched AFTER INSERT OR UPDATE OR DELETE ON kit_tier FOR EACH ROW EXECUTE FUNCTION note_touched('school');

-- Ball ends are no thing to buy: what schools had of them is kept as a supply of their own. An oboe's swab can be drawn back.
DELETE FROM kit_fault WHERE supply = 'ball-ends';
UPDATE supply_setting SET supply = 'own~Ball ends for fine tuners' WHERE supply = 'ball-ends';
UPDATE supply_lot SET supply = 'own~Ball ends for fine tuners' WHERE supply = 'ball-ends';
UPDATE supply_order_line SET supply = 'own~Ball ends for fine tuners' WHERE supply = 'ball-ends';
UPDATE kit_fault f SET supply = 'oboe-swab' FROM instrument i
    WHERE (i.school_id, i.id) = (f.school_id, f.instrument_id) AND f.supply = 'weighted-swab' AND i.kind IN ('oboe', 'english-horn');

-- +goose Down
DROP TABLE kit_tier;
DELETE FROM practice_choice c USING school s WHERE c.school_id = s.school_id AND c.practice = ANY (s.asked_practices);
ALTER TABLE school DROP COLUMN asked_practices;
ALTER TABLE product ADD COLUMN product_group text NOT NULL DEFAULT 'disinfectant';
UPDATE product SET product_group = made_of[1] WHERE made_of[1] IN ('alcohol', 'antibacterial-cleaner');
ALTER TABLE product ALTER COLUMN product_group DROP DEFAULT, DROP COLUMN made_of, DROP COLUMN made_of_asked;
