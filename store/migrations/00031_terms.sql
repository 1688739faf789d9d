-- +goose Up
-- Tables are named as their rows are everywhere else.
RENAME TABLE sittings TO logins, circles TO `groups`, circle_members TO group_members;
ALTER TABLE group_members RENAME COLUMN circle_id TO group_id;
ALTER TABLE folder_members RENAME COLUMN circle_id TO group_id;

-- +goose Down
ALTER TABLE folder_members RENAME COLUMN group_id TO circle_id;
ALTER TABLE group_members RENAME COLUMN group_id TO circle_id;
RENAME TABLE logins TO sittings, `groups` TO circles, group_members TO circle_members;
