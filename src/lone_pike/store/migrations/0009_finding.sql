-- Bikes are found by typing: by any three letters of their words, or by one or two letters that a word begins with.
-- Both indexes follow the bike and its jobs by themselves.
CREATE VIEW bike_words_now AS
SELECT
    bike.id,
    bike.name || char(10) || bike.owner_word || char(10) || bike.story || char(10) || coalesce(
        (SELECT group_concat(complaint, char(10)) FROM job WHERE job.bike_id = bike.id), ''
    ) AS words
FROM bike;
CREATE VIRTUAL TABLE bike_letters USING fts5 (words, tokenize = 'trigram', detail = 'full');
CREATE VIRTUAL TABLE bike_beginnings USING fts5 (words, tokenize = 'unicode61', prefix = '1 2', detail = 'none');
INSERT INTO bike_letters (rowid, words) SELECT id, words FROM bike_words_now;
INSERT INTO bike_beginnings (rowid, words) SELECT id, words FROM bike_words_now;

CREATE TRIGGER bike_is_found AFTER INSERT ON bike
BEGIN
    INSERT INTO bike_letters (rowid, words) SELECT id, words FROM bike_words_now WHERE id = NEW.id;
    INSERT INTO bike_beginnings (rowid, words) SELECT id, words FROM bike_words_now WHERE id = NEW.id;
END;
CREATE TRIGGER bike_is_found_by_its_new_words AFTER UPDATE OF name, owner_word, story ON bike
WHEN NEW.name <> OLD.name OR NEW.owner_word <> OLD.owner_word OR NEW.story <> OLD.story
BEGIN
    UPDATE bike_letters SET words = (SELECT words FROM bike_words_now WHERE id = NEW.id) WHERE rowid = NEW.id;
    UPDATE bike_beginnings SET words = (SELECT words FROM bike_words_now WHERE id = NEW.id) WHERE rowid = NEW.id;
END;
CREATE TRIGGER bike_is_found_by_a_complaint AFTER INSERT ON job WHEN NEW.complaint <> ''
BEGIN
    UPDATE bike_letters SET words = (SELECT words FROM bike_words_now WHERE id = NEW.bike_id) WHERE rowid = NEW.bike_id;
    UPDATE bike_beginnings SET words = (SELECT words FROM bike_words_now WHERE id = NEW.bike_id)
    WHERE rowid = NEW.bike_id;
END;
CREATE TRIGGER bike_is_found_by_a_new_complaint AFTER UPDATE OF complaint ON job WHEN NEW.complaint <> OLD.complaint
BEGIN
    UPDATE bike_letters SET words = (SELECT words FROM bike_words_now WHERE id = NEW.bike_id) WHERE rowid = NEW.bike_id;
    UPDATE bike_beginnings SET words = (SELECT words FROM bike_words_now WHERE id = NEW.bike_id)
    WHERE rowid = NEW.bike_id;
END;

ALTER TABLE bike ADD COLUMN take_up TEXT GENERATED ALWAYS AS (json_extract(document, '$.take_up.type')) VIRTUAL;
CREATE INDEX bike_by_take_up ON bike (take_up);
CREATE INDEX booking_by_links ON booking (links, bike_id);
