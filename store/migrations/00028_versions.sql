-- +goose Up
-- What is kept in memory for all who ask is kept by these versions: who may do what, and what was released. They change with
-- what they tell of, in the same transaction, whoever changes it.
CREATE TABLE versions (
  what VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
  n    BIGINT      NOT NULL
);
INSERT INTO versions (what, n) VALUES ('access', 1), ('released', 1);
CREATE TRIGGER access_account AFTER DELETE ON accounts FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER access_sitting AFTER DELETE ON sittings FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER access_folder_new AFTER INSERT ON folders FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER access_folder AFTER UPDATE ON folders FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER access_folder_gone AFTER DELETE ON folders FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER access_member_new AFTER INSERT ON folder_members FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER access_member_gone AFTER DELETE ON folder_members FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER access_circle_new AFTER INSERT ON circle_members FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER access_circle_gone AFTER DELETE ON circle_members FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'access';
CREATE TRIGGER released_withheld AFTER INSERT ON withheld FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'released';
CREATE TRIGGER released_revision AFTER INSERT ON revisions FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'released';
CREATE TRIGGER released_again AFTER UPDATE ON revisions FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'released';
CREATE TRIGGER released_back AFTER DELETE ON revisions FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'released';
CREATE TRIGGER released_gone AFTER DELETE ON documents FOR EACH ROW UPDATE versions SET n = n + 1 WHERE what = 'released';
-- +goose StatementBegin
CREATE TRIGGER access_account_changed AFTER UPDATE ON accounts FOR EACH ROW
BEGIN
  IF NOT (OLD.role <=> NEW.role AND OLD.epoch <=> NEW.epoch AND OLD.disabled_at <=> NEW.disabled_at AND OLD.display_name <=> NEW.display_name AND OLD.name <=> NEW.name
    AND OLD.password_hash <=> NEW.password_hash AND OLD.email <=> NEW.email AND OLD.subject <=> NEW.subject AND OLD.mails <=> NEW.mails
    AND OLD.otp_secret <=> NEW.otp_secret AND OLD.otp_step <=> NEW.otp_step AND OLD.recovery <=> NEW.recovery) THEN
    UPDATE versions SET n = n + 1 WHERE what = 'access';
  END IF;
END
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER released_document AFTER UPDATE ON documents FOR EACH ROW
BEGIN
  IF NOT (OLD.revision <=> NEW.revision AND OLD.folder_id <=> NEW.folder_id AND OLD.deleted_at <=> NEW.deleted_at AND OLD.replaced_by <=> NEW.replaced_by
    AND (OLD.state = 'retired') <=> (NEW.state = 'retired') AND OLD.number <=> NEW.number AND OLD.owner <=> NEW.owner AND OLD.review <=> NEW.review AND OLD.template <=> NEW.template) THEN
    UPDATE versions SET n = n + 1 WHERE what = 'released';
  END IF;
END
-- +goose StatementEnd

-- +goose Down
DROP TRIGGER released_document;
DROP TRIGGER access_account_changed;
DROP TRIGGER released_gone;
DROP TRIGGER released_back;
DROP TRIGGER released_again;
DROP TRIGGER released_revision;
DROP TRIGGER released_withheld;
DROP TRIGGER access_circle_gone;
DROP TRIGGER access_circle_new;
DROP TRIGGER access_member_gone;
DROP TRIGGER access_member_new;
DROP TRIGGER access_folder_gone;
DROP TRIGGER access_folder;
DROP TRIGGER access_folder_new;
DROP TRIGGER access_sitting;
DROP TRIGGER access_account;
DROP TABLE versions;
