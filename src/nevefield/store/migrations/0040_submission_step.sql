CREATE TABLE submission_step (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  submission_id INT UNSIGNED NOT NULL,
  record_id BIGINT UNSIGNED NOT NULL,
  kind VARCHAR(10) NOT NULL,
  value VARCHAR(60) NOT NULL,
  rule VARCHAR(10) NOT NULL,
  reason VARCHAR(1000) NOT NULL,
  after_round INT UNSIGNED NOT NULL COMMENT 'number of the last round that was answered then',
  attached VARCHAR(200) NOT NULL DEFAULT '' COMMENT 'name of the attachment',
  attachment LONGBLOB NULL,
  answer VARCHAR(500) NOT NULL DEFAULT '' COMMENT 'the authority to a change that was asked for: agreed or refused, and its words',
  account_id INT UNSIGNED NULL,
  at DATETIME(6) NOT NULL,
  KEY submission_step_of (submission_id, record_id),
  CONSTRAINT submission_step_submission FOREIGN KEY (submission_id) REFERENCES submission (id),
  CONSTRAINT submission_step_record FOREIGN KEY (record_id) REFERENCES record (id),
  CONSTRAINT submission_step_account FOREIGN KEY (account_id) REFERENCES account (id)
)
